"""The track that is made of the chosen phrases: planned, rendered by the worker, measured like any other take."""

import hashlib
import json
from collections.abc import Mapping, Sequence
from contextlib import ExitStack
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path
from typing import Any, Final

import msgspec
from django.db import transaction

from pneumen.core.comp import (
    BITS,
    SILENCE,
    Comp,
    CompPhrase,
    CompTake,
    JoinedTakes,
    Span,
    gains_undone_db,
    join_takes,
    kept_of,
)
from pneumen.core.errors import Contradiction, given
from pneumen.core.take import (
    LaidTake,
    Measurement,
    Outline,
    PcmFile,
    PeakTrace,
    Played,
    codes_of,
    measure,
    open_recording,
)
from pneumen.web.audio.models import AudioFile
from pneumen.web.audio.services import Incoming, keep, release, written
from pneumen.web.comp.choices import Sheet, sheet_of
from pneumen.web.comp.ground import Laid, grounds_of, laid_takes, song_length_s, takes_on_sheet
from pneumen.web.comp.models import CompTrack, track_settings
from pneumen.web.job.services import Tell, queue_anew
from pneumen.web.part.models import Part
from pneumen.web.take.models import Take
from pneumen.wording.comp import laid_told
from pneumen.wording.language import _

SHORTEST_S: Final = 0.001
RUNS_ON_S: Final = 0.15
MOST_CHANGES: Final = 20
MEASURED_FROM: Final = 0.5
"""Joining takes about as long as measuring what came of it."""


@dataclass(frozen=True, slots=True, kw_only=True)
class TrackPlan:
    """What a track is to be made of: a core comp, its takes with the file of each, and what to tell of it."""

    comp: Comp
    takes: tuple[Take, ...]
    files: Mapping[str, Path]
    lineage: tuple[dict[str, Any], ...]

    @property
    def fingerprint(self) -> str:
        """What it is made of, in so many letters: another choice, another file, another setting are another."""
        files = {name: path.name for name, path in self.files.items()}
        told = json.dumps([msgspec.to_builtins(self.comp), files], sort_keys=True)
        return hashlib.sha256(told.encode()).hexdigest()


def plan_of(part: Part, track: CompTrack, sheet: Sheet | None = None, laid: Laid | None = None) -> TrackPlan | None:
    """Return what a track would be made of; None where no line has a take.

    Args:
        sheet, laid: of the part, where they are at hand already.
    """
    sheet, laid = sheet or sheet_of(part), laid_takes(part) if laid is None else laid
    takes = {take.number: take for take, _rest in laid}
    path = [number if number in takes else None for number in sheet.path]
    chosen = [takes[number] for number in dict.fromkeys(path) if number is not None]
    if not chosen:
        return None
    offsets = {take.number: offset for take, offset in laid}
    gains, trims = _known_gains_db(chosen), _trims(part, track, sheet, path)
    length_s = song_length_s(part, list(takes.values()), list(offsets.values()))
    pieces: list[_Piece] = []
    for number, (line, take_number) in enumerate(zip(sheet.lines, path, strict=True)):
        if take_number is None or line.start_s is None or line.end_s is None:
            continue
        row, (start_s, end_s) = sheet.held[number].get(take_number), trims.get(number, (line.start_s, line.end_s))
        lag_s = row.lag_s if row else 0.0
        before = pieces[-1] if pieces else None
        if before is not None and before.take.number == take_number and abs(lag_s - before.lag_s) <= RUNS_ON_S:
            lag_s = before.lag_s  # one take runs on as it was played, rather than jump from line to line
        piece = _Piece(
            take=takes[take_number],
            line=number + 1,
            words=line.words,
            start_s=start_s,
            end_s=min(end_s, length_s),
            offset_s=offsets[take_number].offset_s,
            drift_ppm=offsets[take_number].drift_ppm,
            lag_s=lag_s,
            gain_db=gains.get(take_number, 0.0),
        )
        if piece.end_s - piece.start_s >= SHORTEST_S:
            pieces.append(piece)
    if not pieces:
        return None
    comp = Comp(
        rate_hz=part.song.sample_rate_hz,
        length_s=length_s,
        takes={one.name: one.to_core() for one in pieces},
        phrases=_phrases(pieces),
        crossfade_ms=track.crossfade_ms,
        seam_search_ms=track.seam_search_ms,
        match_levels=track.match_levels,
    )
    files = {one.name: one.audio.path for one in pieces}
    used = tuple(dict.fromkeys(one.take for one in pieces))
    return TrackPlan(comp=comp, takes=used, files=files, lineage=tuple(one.told() for one in pieces))


def _phrases(pieces: Sequence["_Piece"]) -> tuple[CompPhrase, ...]:
    """Return the phrases of the track: lines of one take that touch are one phrase, which runs on untouched."""
    found: list[CompPhrase] = []
    for one in pieces:
        if found and found[-1].take == one.name and abs(found[-1].end_s - one.start_s) < SHORTEST_S:
            found[-1] = replace(found[-1], end_s=one.end_s)
        else:
            found.append(CompPhrase(take=one.name, start_s=one.start_s, end_s=one.end_s))
    return tuple(found)


@dataclass(frozen=True, slots=True, kw_only=True)
class _Piece:
    """One phrase of the track: the line it is, the take it comes from, and how that lies in the song."""

    take: Take
    line: int
    words: str
    start_s: float
    end_s: float
    offset_s: float
    drift_ppm: float | None
    lag_s: float
    gain_db: float

    @property
    def name(self) -> str:
        """Its take's; where a lag is taken out of it, another one for each lag."""
        return f"{self.take.number}, {laid_told(self.lag_s)}," if self.lag_s else f"{self.take.number}"

    @property
    def audio(self) -> AudioFile:
        return given("recording", self.take.audio)

    def to_core(self) -> CompTake:
        return CompTake(
            file=self.audio.checksum,
            offset_s=self.offset_s - self.lag_s,
            drift_ppm=self.drift_ppm,
            gain_db=self.gain_db,
        )

    def told(self) -> dict[str, Any]:
        """Return where it comes from, as the track's lineage keeps it."""
        return {
            "line": self.line,
            "words": self.words,
            "take": self.take.number,
            "file": self.take.original_name,
            "sha256": self.audio.checksum,
            "start_s": self.start_s,
            "end_s": self.end_s,
        }


def _known_gains_db(takes: list[Take]) -> dict[int, float]:
    """Return what undoes the changes of a gain that is known in dB, among takes of one chain."""
    if len({getattr(take, "told_chain", None) for take in takes}) != 1:
        return {}
    return gains_undone_db({take.number: _known_gain_db(take) for take in takes})


def _known_gain_db(take: Take) -> float | None:
    """Return the gain a take was recorded with; None where its control tells none in dB."""
    recorded, planned = take.recorded or {}, getattr(take, "told_gain_db", None)
    if getattr(take, "told_marking", None) != "db" or recorded.get("other_gear") or planned is None:
        return None
    return float(recorded.get("gain_db", planned))


def _trims(part: Part, track: CompTrack, sheet: Sheet, path: list[int | None]) -> dict[int, tuple[float, float]]:
    """Return what is kept of each line where pauses are to be cleaned."""
    if track.cleanup != SILENCE and track.breaths:
        return {}
    heard = takes_on_sheet(part, heard=True)
    grounds = {take.number: ground for take, ground in zip(heard, grounds_of(part, heard), strict=True)}
    found = {}
    for number, (line, take_number) in enumerate(zip(sheet.lines, path, strict=True)):
        if take_number is None or line.start_s is None or line.end_s is None:
            continue
        ground = grounds[take_number]
        span = Span(start_s=line.start_s, end_s=line.end_s)
        kept = kept_of(span, ground.levels_db, ground.sounds, cleanup=track.cleanup, breaths=track.breaths)
        found[number] = (kept.start_s, kept.end_s)
    return found


def track_of(part: Part) -> CompTrack | None:
    return CompTrack.objects.filter(part=part).prefetch_related("jobs").first()


def track_if_fresh(part: Part, sheet: Sheet) -> CompTrack | None:
    """Return the track where it is made of what is chosen now."""
    track = track_of(part)
    return track if track is not None and is_fresh(track, plan_of(part, track, sheet)) else None


@transaction.atomic
def make(part: Part, **settings: Any) -> CompTrack:
    """Have the track made of what is chosen, in the way its person wants it.

    Raises:
        Contradiction: where no line has a take yet.
        OutOfRange: for a setting that cannot be.
    """
    track = CompTrack.objects.filter(part=part).first() or CompTrack(owner=part.owner, part=part)
    for name, value in settings.items():
        setattr(track, name, value)
    track.listened = False
    if plan_of(part, track) is None:
        raise Contradiction("lines", _("have no take yet: lay the takes to the lines, and choose"))
    track.save()
    queue_anew(track)
    return track


@transaction.atomic
def made_again(part: Part) -> None:
    """Have a track that was made before made again, since a choice changed; else nothing."""
    track = CompTrack.objects.filter(part=part).exclude(made_of="").only("listened", "owner").first()
    if track is not None:
        track.listened = False
        track.save(update_fields=["listened"])
        queue_anew(track)


def is_fresh(track: CompTrack, plan: TrackPlan | None) -> bool:
    """Return whether a track is made of what is chosen now."""
    return plan is not None and track.made_of == plan.fingerprint


def make_track(track: CompTrack, tell: Tell) -> None:
    """Render and measure a track, as the worker does.

    Raises:
        UnreadableFile: where a take cannot be read.
    """
    for _rest in range(MOST_CHANGES):
        stored = CompTrack.objects.filter(pk=track.pk).first()
        if stored is None:  # deleted while it waited
            return
        part = Part.objects.whole().get(pk=stored.part_id)
        plan = plan_of(part, stored)
        if plan is None:
            raise Contradiction("lines", _("have no take any more: choose again"))
        if is_fresh(stored, plan):  # else something was chosen otherwise while it was being made
            return
        _make(stored, part, plan, tell)


def _make(track: CompTrack, part: Part, plan: TrackPlan, tell: Tell) -> None:
    joined = _joined(plan)
    tell(MEASURED_FROM)
    with written(partial(_write, joined)) as incoming:
        with open_recording(incoming.path) as recording:
            outline = Outline(recording.sample_rate_hz)
            measured = measure(
                recording,
                outline=outline,
                progress=lambda share: tell(MEASURED_FROM + share / 2),
                played=Played.joined([take.played for take in plan.takes]),
            )
        _finish(track, plan, joined, incoming, measured, outline.trace())


def _joined(plan: TrackPlan) -> JoinedTakes:
    with ExitStack() as opened:
        sources = {
            name: LaidTake(
                opened.enter_context(open_recording(plan.files[name])),
                rate_hz=plan.comp.rate_hz,
                offset_s=take.offset_s,
                drift_ppm=take.drift_ppm or 0.0,
            )
            for name, take in plan.comp.takes.items()
        }
        return join_takes(plan.comp, sources)


def _write(joined: JoinedTakes, path: Path) -> None:
    with PcmFile(path, sample_rate_hz=joined.rate_hz, channels=len(joined.samples), bits=BITS) as file:
        file.write(codes_of(joined.samples, BITS))


@transaction.atomic
def _finish(
    track: CompTrack,
    plan: TrackPlan,
    joined: JoinedTakes,
    incoming: Incoming,
    measured: Measurement,
    trace: PeakTrace,
) -> None:
    stored = CompTrack.objects.filter(pk=track.pk).first()
    if stored is None:  # deleted while it was made
        return
    before: AudioFile | None = stored.audio
    stored.audio = keep(track.owner, incoming)
    stored.measurement = msgspec.to_builtins(measured)
    stored.peaks, stored.peak_s = trace.peaks, trace.seconds_per_column
    stored.made_of, stored.lineage = plan.fingerprint, list(plan.lineage)
    stored.seams = msgspec.to_builtins(joined.seams)
    stored.told = msgspec.to_builtins(joined.findings)
    stored.save()
    if before is not None and before.pk != stored.audio.pk:
        release(before)


__all__ = [
    "TrackPlan",
    "is_fresh",
    "made_again",
    "make",
    "make_track",
    "plan_of",
    "track_of",
    "track_settings",
]
