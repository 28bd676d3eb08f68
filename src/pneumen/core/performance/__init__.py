"""How a performance stands in time and in tune: measured, never graded."""

from pneumen.core.performance.chroma import PER_S as CHROMA_PER_S
from pneumen.core.performance.chroma import chroma_of
from pneumen.core.performance.layers import (
    ALIKE_HZ,
    LATE_MS,
    LAYER_KINDS,
    PLACES,
    LayerFit,
    PhraseOffset,
    belongs_to,
    is_copy,
    layer_fit,
    likeness_of,
)
from pneumen.core.performance.notes import Note, Tuning, meant, notes_in, off_cents, semitone_of, tuning_of
from pneumen.core.performance.onsets import onsets_of
from pneumen.core.performance.pitch import PitchTrack, pitch_of
from pneumen.core.performance.scale import nearest_in, scale_of
from pneumen.core.performance.study import Study, is_melodic, study_of, tuning_of_sound
from pneumen.core.performance.timing import (
    SpanTiming,
    Tightness,
    Timing,
    pairs_between,
    tightness_of,
    timing_by_span,
    timing_of,
)
from pneumen.core.performance.tone import PER_S as TONE_PER_S
from pneumen.core.performance.tone import shape_of, tone_of, unlike_db

__all__ = [
    "ALIKE_HZ",
    "CHROMA_PER_S",
    "LATE_MS",
    "LAYER_KINDS",
    "PLACES",
    "TONE_PER_S",
    "LayerFit",
    "Note",
    "PhraseOffset",
    "PitchTrack",
    "SpanTiming",
    "Study",
    "Tightness",
    "Timing",
    "Tuning",
    "belongs_to",
    "chroma_of",
    "is_copy",
    "is_melodic",
    "layer_fit",
    "likeness_of",
    "meant",
    "nearest_in",
    "notes_in",
    "off_cents",
    "onsets_of",
    "pairs_between",
    "pitch_of",
    "scale_of",
    "semitone_of",
    "shape_of",
    "study_of",
    "tightness_of",
    "timing_by_span",
    "timing_of",
    "tone_of",
    "tuning_of",
    "tuning_of_sound",
    "unlike_db",
]
