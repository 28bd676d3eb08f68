"""What a level diagram gives reason to say, sorted by what it would do to the take."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.gear import LOWEST_EIN_DBU_A
from pneumen.core.line.levels import Levels
from pneumen.core.setup import LineSetup, PluggedSetup, UsbSetup
from pneumen.core.verdict import Verdict

QUIET_DBFS: Final = -24.0
VERY_QUIET_DBFS: Final = -30.0


@dataclass(frozen=True, slots=True, kw_only=True)
class LineFinding:
    """One thing worth saying about a setup; verdict is clear, watch, mendable or baked-in.

    stage is the one it happens at; plugged tells that there is no microphone to move; limit_db is what the gain
    control reaches, and target_dbfs the peak that would ask for more, or for less.
    """

    kind: str
    value: float
    unit: str
    verdict: Verdict
    stage: str = ""
    plugged: bool = False
    target_dbfs: float | None = None
    limit_db: float | None = None


def findings_of(setup: LineSetup, levels: Levels) -> tuple[LineFinding, ...]:
    """Return what is doubtful or wrong about a setup, gravest first."""
    found = [*_ceiling(setup, levels), *_level(setup, levels), *_noise(levels), *_gain(setup, levels), *_sheet(setup)]
    return tuple(sorted(found, key=lambda finding: -finding.verdict.gravity))


def _ceiling(setup: LineSetup, levels: Levels) -> list[LineFinding]:
    if levels.headroom_db >= 0:
        return []
    clips = LineFinding(
        kind="clipping",
        value=levels.headroom_db,
        unit="dB",
        verdict=Verdict.BAKED_IN,
        stage=levels.clips_first,
        plugged=isinstance(setup, PluggedSetup),
    )
    return [clips]


def _level(setup: LineSetup, levels: Levels) -> list[LineFinding]:
    peak, plugged = levels.peak_dbfs, isinstance(setup, PluggedSetup)
    if levels.headroom_db >= 0 and peak > -1:
        return [LineFinding(kind="too-hot", value=peak, unit="dBFS", verdict=Verdict.WATCH, plugged=plugged)]
    verdict = verdict_of_quiet(peak)
    if verdict == Verdict.CLEAR:
        return []
    return [LineFinding(kind="too-quiet", value=peak, unit="dBFS", verdict=verdict, plugged=plugged)]


def verdict_of_quiet(peak_dbfs: float) -> Verdict:
    """Judge how quiet a loudest peak is: what is lifted afterwards brings its noise along."""
    if peak_dbfs >= QUIET_DBFS:
        return Verdict.CLEAR
    return Verdict.MENDABLE if peak_dbfs < VERY_QUIET_DBFS else Verdict.WATCH


def _noise(levels: Levels) -> list[LineFinding]:
    clean = levels.clean_range_db
    if clean >= 40:
        return []
    verdict = Verdict.MENDABLE if clean < 30 else Verdict.WATCH
    return [LineFinding(kind="noise", value=clean, unit="dB", verdict=verdict, stage=levels.noise_set_by)]


def _gain(setup: LineSetup, levels: Levels) -> list[LineFinding]:
    if isinstance(setup, UsbSetup):
        return []
    low, high = setup.preamp.gain_min_db, setup.preamp.gain_max_db
    return [
        LineFinding(
            kind="gain-out-of-range",
            value=gain_db,
            unit="dB",
            verdict=Verdict.WATCH,
            plugged=isinstance(setup, PluggedSetup),
            target_dbfs=float(target),
            limit_db=high if gain_db > high else low,
        )
        for target, gain_db in levels.gain_for_peak_db.items()
        if not low <= gain_db <= high
    ]


def _sheet(setup: LineSetup) -> list[LineFinding]:
    if isinstance(setup, UsbSetup) or setup.preamp.ein_dbu >= LOWEST_EIN_DBU_A:
        return []
    return [LineFinding(kind="ein-below-thermal", value=setup.preamp.ein_dbu, unit="dBu", verdict=Verdict.WATCH)]
