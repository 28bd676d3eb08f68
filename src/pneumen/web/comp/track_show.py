"""The track in words: how it stands, what is wrong with it, where its seams are."""

from dataclasses import dataclass

import msgspec

from pneumen.core.comp import Seam
from pneumen.core.take import Finding
from pneumen.core.verdict import Verdict, worst_of
from pneumen.web.comp.choices import Sheet
from pneumen.web.comp.models import CompTrack
from pneumen.web.part.models import Part
from pneumen.wording.comp import advice_on_comp, seam_figures, seam_told
from pneumen.wording.figures import clock, figure
from pneumen.wording.language import _
from pneumen.wording.takes import advice_on_take


@dataclass(frozen=True, slots=True, kw_only=True)
class SeamShown:
    """A seam in the margin of the line it opens."""

    step: str
    verdict: Verdict
    told: str
    at_s: str = ""
    figures: tuple[str, ...] = ()
    better: tuple[tuple[str, str], ...] = ()
    """Where less would be heard: seconds of the song, and how much less."""


@dataclass(frozen=True, slots=True, kw_only=True)
class TrackShown:
    """The track as it is, or is being made."""

    row: CompTrack
    state: str
    fresh: bool
    progress: float
    error: str
    verdict: Verdict | None
    sentence: str
    findings: tuple[tuple[Verdict, str, str], ...]
    lineage: str


def comp_verdict(part: Part) -> Verdict:
    """Return how Comp stands: the track's worst where it is made, else open."""
    made = CompTrack.objects.filter(part=part).exclude(made_of="")
    return verdict_of(made.only("made_of", "measurement", "seams", "told").first())


def verdict_of(track: CompTrack | None) -> Verdict:
    """Return how a track stands; open where it is not made yet."""
    if track is None or not track.made_of:
        return Verdict.OPEN
    measured = track.to_core()
    found = [finding.verdict for finding in _told_of(track)]
    return worst_of([*found, measured.verdict if measured else Verdict.CLEAR])


def seams_shown(sheet: Sheet, track: CompTrack | None) -> dict[int, SeamShown]:
    """Return the seams by the number of the line they open, as the track has them."""
    if track is None:
        return {}
    found = {}
    for raw in track.seams:
        seam = msgspec.convert(raw, Seam)
        due_s = seam.at_s - seam.moved_ms / 1000
        starts = [(abs((line.start_s or 0.0) - due_s), number) for number, line in enumerate(sheet.lines)]
        step = "" if seam.step_db is None else f"{figure(seam.step_db, 1, sign=True)} dB"
        found[min(starts)[1]] = SeamShown(
            step=step,
            verdict=Verdict.MENDABLE if seam.heard else Verdict.CLEAR,
            told=seam_told(seam),
            at_s=f"{seam.at_s:.3f}",
            figures=seam_figures(seam),
            better=tuple(
                (f"{one.at_s:.3f}", _("{less_db} dB less").format(less_db=figure(one.less_db, 0)))
                for one in seam.better
            ),
        )
    return found


def track_shown(track: CompTrack, *, fresh: bool) -> TrackShown:
    job = next(iter(track.jobs.all()), None)
    measured = track.to_core()
    told = _told_of(track)
    findings: list[tuple[Verdict, str, str]] = [
        (one.verdict, clock(one.start_s, 1), advice_on_comp(one)) for one in told if one.verdict is not Verdict.CLEAR
    ]
    if measured:
        findings += [
            (one.verdict, clock(one.start_s, 1), advice_on_take(one))
            for one in measured.findings
            if one.kind not in ("noise", "too-quiet")
        ]
    rough = sum(msgspec.convert(seam, Seam).heard for seam in track.seams)
    sentence = ""
    if measured:
        peak = measured.level.sample_peak_dbfs
        level = "silent" if peak is None else _("peak {peak} dBFS").format(peak=figure(peak, 1))
        seams = f"{len(track.seams)} seams" if len(track.seams) != 1 else _("one seam")
        heard = _("{rough} of them heard").format(rough=rough) if rough else _("none of them heard")
        if len(track.seams) == 1:
            heard = "heard" if rough else _("not heard")
        sentence = f"{clock(measured.format.duration_s, 0)}, {level}; {seams}{', ' + heard if track.seams else ''}."
    return TrackShown(
        row=track,
        state=job.state if job else ("done" if track.made_of else ""),
        fresh=fresh,
        progress=job.progress if job else 0,
        error=job.error if job else "",
        verdict=verdict_of(track) if measured else None,
        sentence=sentence,
        findings=tuple(findings),
        lineage=lineage_told(track),
    )


def lineage_told(track: CompTrack) -> str:
    """Say which takes a track is made of."""
    takes = sorted({one["take"] for one in track.lineage})
    if not takes:
        return ""
    names = [f"{number}" for number in takes]
    return (
        _("take {names}").format(names=names[0])
        if len(names) == 1
        else _("takes {names} and {names_2}").format(names=", ".join(names[:-1]), names_2=names[-1])
    )


def _told_of(track: CompTrack) -> list[Finding]:
    return [msgspec.convert(one, Finding) for one in track.told]
