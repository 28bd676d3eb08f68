"""A take's timing and tuning: heard once it is measured, and held against its backing and other takes."""

from dataclasses import dataclass
from typing import Final

import msgspec
import numpy as np

from pneumen.core.errors import UnknownName
from pneumen.core.performance import (
    Note,
    SpanTiming,
    Study,
    Tightness,
    Timing,
    Tuning,
    chroma_of,
    meant,
    nearest_in,
    off_cents,
    scale_of,
    semitone_of,
    study_of,
    tightness_of,
    timing_by_span,
    timing_of,
    tone_of,
    tuning_of,
    tuning_of_sound,
)
from pneumen.core.take import open_recording, resampled
from pneumen.web.audio.models import AudioFile
from pneumen.web.comp.ground import offsets_of, sections_of, takes_on_sheet
from pneumen.web.part.models import Backing, Part
from pneumen.web.take.models import Take

SEMITONES: Final = 12
HEARD_HZ: Final = 32_000
LONGEST_S: Final = 600.0
"""Ten minutes are listened to: they lie in memory for that."""
BACKING_S: Final = 180.0
MOST_OTHERS: Final = 6
"""So many of the newest other takes tell what was meant."""
MOST_FAR: Final = 6
FAR_CENTS: Final = 25.0
"""What lies nearer is hardly heard as out of tune (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Heard:
    """One note: when, how far from what was meant in cents, and by how many semitones it is another note than that."""

    note: Note
    cents: float
    wrong_by: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Performance:
    """Timing against the backing (None without a tempo), against the take before; tuning and the notes, where told."""

    timing: Timing | None
    tempo_bpm: float | None
    beside: tuple[int, Tightness] | None
    tuning: Tuning | None
    by_backing: bool
    notes: tuple[Heard, ...]
    agreed: bool
    by_key: str = ""
    sections: tuple[tuple[str, SpanTiming], ...] = ()

    @property
    def far(self) -> tuple[Heard, ...]:
        """The notes farthest off, in order of time."""
        off = [one for one in self.notes if abs(one.cents) >= FAR_CENTS or one.wrong_by]
        worst = sorted(off, key=lambda one: -abs(one.cents) - 100 * abs(one.wrong_by))[:MOST_FAR]
        return tuple(sorted(worst, key=lambda one: one.note.start_s))


def keep_study(take: Take, audio: AudioFile) -> None:
    """Listen to a take's timing and tuning, and store what was heard."""
    with open_recording(audio.path) as recording:
        samples = resampled(recording, HEARD_HZ, longest_s=LONGEST_S)
    study = study_of(samples, HEARD_HZ, take.part.source_facts, _tuning_of_backing(take))
    chroma, tone = chroma_of(samples, HEARD_HZ).tobytes(), tone_of(samples, HEARD_HZ).tobytes()
    Take.objects.filter(pk=take.pk).update(study=msgspec.to_builtins(study), chroma=chroma, tone=tone)


def _tuning_of_backing(take: Take) -> Tuning | None:
    if take.backing is None:
        return None
    earlier = Take.everything.filter(backing=take.backing_id).exclude(study=None).exclude(pk=take.pk).first()
    if earlier is not None and (known := earlier.to_study()) is not None:
        return known.backing
    with open_recording(take.backing.path) as recording:
        return tuning_of_sound(resampled(recording, HEARD_HZ, longest_s=BACKING_S), HEARD_HZ)


def performance_of(part: Part, take: Take) -> Performance | None:
    """Return how a take stands in time and in tune; None before it was listened to."""
    study = take.to_study()
    if study is None:
        return None
    backing = Backing.objects.filter(song=part.song_id).first()
    others = _others(part, take)
    tuning = study.backing if study.backing and study.backing.sure else tuning_of(study.notes or ())
    key = part.song.key if _is_key(part.song.key) else ""
    notes, agreed = _notes(study, [one for _, one in others], tuning, key)
    return Performance(
        timing=_timing(take, study, backing),
        tempo_bpm=backing.tempo_bpm if backing else None,
        beside=_beside(take, study, others),
        tuning=tuning if study.notes and tuning and tuning.sure else None,
        by_backing=bool(study.backing and study.backing.sure),
        notes=notes,
        agreed=agreed,
        by_key=key if notes and not agreed else "",
        sections=_by_section(part, take, study, backing),
    )


def _is_key(key: str) -> bool:
    try:
        scale_of(key)
    except UnknownName:
        return False
    return True


def _by_section(part: Part, take: Take, study: Study, backing: Backing | None) -> tuple[tuple[str, SpanTiming], ...]:
    """Return how each section stands beside the whole take, where the take is laid to the lines of a sheet."""
    if backing is None or not backing.tempo_bpm or take.backing_id != backing.audio_id:
        return ()
    spans = sections_of(part)
    placed = [one for one in takes_on_sheet(part) if one.pk == take.pk]
    if not spans or not placed:
        return ()
    offset_s = offsets_of(part, placed)[0].offset_s
    inside = [(start_s - offset_s, end_s - offset_s) for _, start_s, end_s in spans]
    found = timing_by_span(np.array(study.onsets_s), 60.0 / backing.tempo_bpm, inside)
    return tuple((name, one) for (name, _, _), one in zip(spans, found, strict=True) if one is not None)


def _timing(take: Take, study: Study, backing: Backing | None) -> Timing | None:
    """Return the timing against the backing that was heard while recording."""
    if backing is None or not backing.tempo_bpm or take.backing_id != backing.audio_id:
        return None
    lag_s = (take.measurement or {}).get("backing_lag_s")
    first_s = None if lag_s is None else backing.zero_s + lag_s
    drift_ppm = (take.measurement or {}).get("drift_ppm") or 0.0  # a fast clock counts more of its own seconds a beat
    beat_s = 60.0 / backing.tempo_bpm * (1 + 1e-6 * drift_ppm)
    return timing_of(np.array(study.onsets_s), beat_s, first_beat_s=first_s)


def _others(part: Part, take: Take) -> list[tuple[int, Study]]:
    """Return the newest other takes of the same passage that were listened to."""
    rows = part.takes.exclude(pk=take.pk).exclude(study=None).filter(section=take.section, simulated=take.simulated)
    found = [(row.number, row.to_study()) for row in rows.only("number", "study")[:MOST_OTHERS]]
    return [(number, study) for number, study in found if study is not None]


def _beside(take: Take, study: Study, others: list[tuple[int, Study]]) -> tuple[int, Tightness] | None:
    """Return how tight it is to the take of the same passage before it, or else to the newest."""
    ranked = sorted(others, key=lambda one: (one[0] > take.number, -one[0]))
    for number, other in ranked:
        tightness = tightness_of(np.array(other.onsets_s), np.array(study.onsets_s))
        if tightness is not None:
            return number, tightness
    return None


def _notes(study: Study, others: list[Study], tuning: Tuning | None, key: str) -> tuple[tuple[Heard, ...], bool]:
    if not study.notes or tuning is None or not tuning.sure:
        return (), False
    told = meant(study.notes, [other.notes for other in others if other.notes], tuning)
    heard = []
    for note, agreed in zip(study.notes, told, strict=True):
        nearest = semitone_of(note, tuning)
        wanted = agreed
        if agreed is None and key and nearest % SEMITONES not in scale_of(key):
            wanted = nearest_in(scale_of(key), nearest + off_cents(note, nearest, tuning) / 100)
        wrong_by = 0 if wanted is None else nearest - wanted
        heard.append(Heard(note=note, cents=off_cents(note, nearest, tuning), wrong_by=wrong_by))
    return tuple(heard), any(one is not None for one in told)
