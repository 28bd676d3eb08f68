"""The takes of a part for its sheet: which there are, and where they lie in the song."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
from django.db.models import F, Q
from django.db.models.fields.json import KT

from pneumen.core.comp import EAR, TakeFile, TakeGround, TakeOffset, lay_takes, take_offset, warp_of
from pneumen.core.take import TEST
from pneumen.web.part.models import Backing, Part
from pneumen.web.take.models import HEAVY, Take

MOST_TAKES: Final = 24
"""So many takes stand under a line; more nobody hears through."""
CLASSES: Final = 12
OCTAVES: Final = 7
TOLD: Final = {
    "told_lag_s": F("measurement__backing_lag_s"),
    "told_lag_band_ms": F("measurement__backing_lag_band_ms"),
    "told_drift_ppm": F("measurement__drift_ppm"),
    "told_gain_db": F("snapshot__gain_db"),
    "told_marking": KT("snapshot__gain_marking"),
    "told_chain": KT("snapshot__chain_name"),
}
"""What of a take's long documents the sheet reads, each under a name of its own: figures as such, null as None, and
texts."""
LEAK_TOLD: Final = ("told_lag_s", "told_lag_band_ms", "told_drift_ppm")
HEARD: Final = ("measurement", "peaks", "study", "chroma", "tone")
UNKNOWN_SONG_S: Final = 3600.0
"""A time stamp up to so late may count from the song's start where its length is not known."""


def takes_on_sheet(part: Part, *, heard: bool = False, set_up: bool = False) -> list[Take]:
    """Return the takes the sheet is made of, in order of number: real ones only, where there are any; no tests.

    Of many the newest are, those that were chosen, and the one the others are laid to.

    Args:
        heard: with their outline and all that was measured and heard of them; else only what tells where they lie.
        set_up: with how they were set up.
    """
    rows = part.takes.exclude(measurement=None).exclude(kind=TEST).exclude(audio=None).select_related("audio", "place")
    needed = HEARD * heard + ("snapshot",) * set_up
    left_out = [name for name in HEAVY if name not in needed]
    if rows.filter(simulated=False).exists():
        rows = rows.filter(simulated=False)
    newest = rows.order_by("-number").values("pk")[:MOST_TAKES]
    chosen = part.sheet_lines.exclude(take=None).values("take")
    rows = rows.filter(Q(pk__in=newest) | Q(pk__in=chosen) | Q(place__leads=True))
    return list(rows.defer(*left_out).annotate(**TOLD).order_by("number"))


def sections_of(part: Part) -> list[tuple[str, float, float]]:
    """Return the sections of the sheet as they follow each other: name, from and to in song time."""
    found: list[tuple[str, float, float]] = []
    for line in part.sheet_lines.all():
        if not line.section or line.start_s is None or line.end_s is None:
            continue
        if found and found[-1][0] == line.section:
            found[-1] = (line.section, found[-1][1], line.end_s)
        else:
            found.append((line.section, line.start_s, line.end_s))
    return found


def file_of(take: Take) -> TakeFile:
    """Return what is known of a take before it is laid."""
    measured = take.to_core()
    return TakeFile(
        duration_s=take.length_s or 0.0,
        trace=take.trace,
        study=take.to_study(),
        chroma=np.frombuffer(bytes(take.chroma or b""), np.uint8).reshape(-1, CLASSES),
        tone=np.frombuffer(bytes(take.tone or b""), np.uint8).reshape(-1, OCTAVES),
        findings=measured.findings if measured else (),
    )


def recording_offset_s(part: Part) -> float | None:
    """Return how late recordings come in through the program, as the song's newest loop tells; None without one."""
    loops = (one for one in part.song.loops.all() if one.through == "program" and not one.simulated)
    loop = next(loops, None)
    return None if loop is None else loop.offset_samples / loop.sample_rate_hz


def offsets_of(part: Part, takes: Sequence[Take]) -> list[TakeOffset]:
    """Return where takes lie in the song, each from the surest that is known."""
    backing, late_s = Backing.objects.filter(song=part.song_id).first(), recording_offset_s(part)
    known = _Known(backing=backing, late_s=late_s, takes=_with_those_heard(part, takes, backing))
    return [_offset_of(take, known) for take in takes]


Laid = Sequence[tuple[Take, TakeOffset]]


def laid_takes(part: Part) -> Laid:
    """Return the takes on the sheet with where each lies."""
    takes = takes_on_sheet(part)
    return list(zip(takes, offsets_of(part, takes), strict=True))


@dataclass(frozen=True, slots=True, kw_only=True)
class _Known:
    """What takes are laid by: the song's backing, how late recordings come in, and takes by their recording."""

    backing: Backing | None
    late_s: float | None
    takes: Mapping[int, Take]


def _with_those_heard(part: Part, takes: Sequence[Take], backing: Backing | None) -> dict[int, Take]:
    """Return takes by their recording, with the earlier layers that were in the headphones for some of them."""
    found = {take.audio_id: take for take in takes if take.audio_id is not None}
    heard = {take.backing_id for take in takes if take.backing_id is not None} - {backing.audio_id if backing else None}
    missing = heard - found.keys()
    while missing:
        rows = Take.everything.filter(part=part, audio_id__in=missing).select_related("place").defer(*HEAVY)
        more = {take.audio_id: take for take in rows.annotate(**TOLD)}
        found |= {audio: take for audio, take in more.items() if audio is not None}
        missing = {take.backing_id for take in more.values() if take.backing_id} - found.keys()
    return found


def _heard(take: Take, known: _Known) -> TakeOffset | None:
    """Return where what was in the headphones lies in the song: its backing, or an earlier layer; None if unknown."""
    if take.backing_id is None:
        return None
    if known.backing is not None and take.backing_id == known.backing.audio_id:
        return TakeOffset(offset_s=-known.backing.zero_s, source=EAR, band_ms=0.0)
    earlier = known.takes.get(take.backing_id)
    return None if earlier is None or earlier.number >= take.number else _offset_of(earlier, known)


def _offset_of(take: Take, known: _Known) -> TakeOffset:
    place, heard = getattr(take, "place", None), _heard(take, known)
    lag, band, drift = (getattr(take, name, None) if heard else None for name in LEAK_TOLD)
    before = heard or TakeOffset(offset_s=0.0, source=EAR, band_ms=0.0)
    return take_offset(
        by_ear_s=place.by_ear_s if place else None,
        clock_by_ear_ppm=place.drift_ppm if place else None,
        leak_lag_s=lag,
        leak_band_ms=None if band is None else band + before.band_ms,
        leak_drift_ppm=None if drift is None else drift + (before.drift_ppm or 0.0),
        zero_s=-before.offset_s,
        time_reference_s=take.time_reference_s,
        song_s=known.backing.duration_s if known.backing else UNKNOWN_SONG_S,
        others_lag_s=place.others_lag_s if place else None,
        recording_offset_s=known.late_s,
    )


def song_length_s(part: Part, takes: Sequence[Take], offsets: Sequence[TakeOffset]) -> float:
    """Return how long the song is: its backing from zero on, or as far as a take goes."""
    backing = Backing.objects.filter(song=part.song_id).first()
    if backing is not None and backing.duration_s > backing.zero_s:
        return backing.duration_s - backing.zero_s
    ends = [offset.offset_s + (take.length_s or 0) for take, offset in zip(takes, offsets, strict=True)]
    return max([1.0, *ends])


def grounds_of(part: Part, takes: Sequence[Take]) -> list[TakeGround]:
    """Return the takes as they lie in the song."""
    offsets = offsets_of(part, takes)
    song_s = song_length_s(part, takes, offsets)
    backing = Backing.objects.filter(song=part.song_id).first()
    to_backing = [backing is not None and take.backing_id == backing.audio_id for take in takes]
    files = [file_of(take) for take in takes]
    return lay_takes(files, [one.offset_s for one in offsets], song_s, first=leading(takes), to_backing=to_backing)


def leading(takes: Sequence[Take]) -> int | None:
    """Return the number of the take the others are laid to; None before any was."""
    return next(
        (number for number, take in enumerate(takes) if getattr(take, "place", None) and take.place.leads), None
    )


def beside(part: Part, lead: Take, takes: Sequence[Take]) -> list[tuple[float | None, float]]:
    """Return for each take how much later the song begins in it than the leading take tells, None where that cannot be
    told, and how much slower it is."""
    base_s, first = offsets_of(part, [lead])[0].offset_s, file_of(lead)
    found: list[tuple[float | None, float]] = []
    for take in takes:
        warp = None if take.pk == lead.pk else warp_of(first, file_of(take))
        lag_s = None if warp is None else float(np.median(warp.lag_s)) - base_s
        found.append((lag_s, 0.0 if warp is None else warp.tempo_off))
    return found
