"""What a level diagram gives reason to say, sorted by what it would do to the take."""

from dataclasses import dataclass

from pneumen.core.gear import LOWEST_EIN_DBU_A
from pneumen.core.levels import thermal_noise_dbu
from pneumen.core.line.levels import Levels
from pneumen.core.setup import LineSetup, PluggedSetup, UsbSetup
from pneumen.core.verdict import Verdict


@dataclass(frozen=True, slots=True, kw_only=True)
class LineFinding:
    """One thing worth saying about a setup; verdict is clear, watch, mendable or baked-in."""

    kind: str
    value: float
    unit: str
    verdict: Verdict
    advice: str


def findings_of(setup: LineSetup, levels: Levels) -> tuple[LineFinding, ...]:
    """Return what is doubtful or wrong about a setup, gravest first."""
    found = [*_ceiling(setup, levels), *_level(setup, levels), *_noise(levels), *_gain(setup, levels), *_sheet(setup)]
    return tuple(sorted(found, key=lambda finding: -finding.verdict.gravity))


def _ceiling(setup: LineSetup, levels: Levels) -> list[LineFinding]:
    if levels.headroom_db >= 0:
        return []
    back = "turn the instrument down" if isinstance(setup, PluggedSetup) else "move back"
    cure = f"{back} or use a pad" if levels.clips_first != "converter" else "lower the gain"
    advice = f"The loudest peak passes what the {levels.clips_first} can take: {cure}."
    return [LineFinding(kind="clipping", value=levels.headroom_db, unit="dB", verdict=Verdict.BAKED_IN, advice=advice)]


def _level(setup: LineSetup, levels: Levels) -> list[LineFinding]:
    peak, plugged = levels.peak_dbfs, isinstance(setup, PluggedSetup)
    if levels.headroom_db >= 0 and peak > -1:
        advice = f"Less than 1 dB is left: lower the gain, or {'play softer' if plugged else 'move back'}."
        return [LineFinding(kind="too-hot", value=peak, unit="dBFS", verdict=Verdict.WATCH, advice=advice)]
    if peak >= -24:
        return []
    verdict = Verdict.MENDABLE if peak < -30 else Verdict.WATCH
    advice = f"The loudest peak stays low: raise the gain, or {'turn the instrument up' if plugged else 'move closer'}."
    return [LineFinding(kind="too-quiet", value=peak, unit="dBFS", verdict=verdict, advice=advice)]


def _noise(levels: Levels) -> list[LineFinding]:
    clean = levels.clean_range_db
    if clean >= 40:
        return []
    verdict = Verdict.MENDABLE if clean < 30 else Verdict.WATCH
    advice = (
        f"The {levels.noise_set_by} sets the noise: "
        + {
            "room": "quieten the room or move closer.",
            "microphone": "move closer or use a quieter microphone.",
            "preamp": "raise the gain, move closer, or put a booster before the preamp.",
            "converter": "raise the gain.",
            "instrument": "it hums or hisses by itself: turn it up, away from screens and lamps, with a fresh battery.",
            "box": "use a quieter DI box, or the interface's own instrument input.",
        }[levels.noise_set_by]
    )
    return [LineFinding(kind="noise", value=clean, unit="dB", verdict=verdict, advice=advice)]


def _gain(setup: LineSetup, levels: Levels) -> list[LineFinding]:
    if isinstance(setup, UsbSetup):
        return []
    low, high = setup.preamp.gain_min_db, setup.preamp.gain_max_db
    plugged, found = isinstance(setup, PluggedSetup), []
    more = "turn the instrument up" if plugged else "move closer or use a booster"
    less = "use a pad or turn the instrument down" if plugged else "use a pad or move back"
    for target, gain_db in levels.gain_for_peak_db.items():
        if gain_db > high:
            advice = f"A peak at {target} dBFS needs more gain than the {high:g} dB there is: {more}."
        elif gain_db < low:
            advice = f"A peak at {target} dBFS needs less gain than the {low:g} dB there is: {less}."
        else:
            continue
        found.append(
            LineFinding(kind="gain-out-of-range", value=gain_db, unit="dB", verdict=Verdict.WATCH, advice=advice)
        )
    return found


def _sheet(setup: LineSetup) -> list[LineFinding]:
    if isinstance(setup, UsbSetup) or setup.preamp.ein_dbu >= LOWEST_EIN_DBU_A:
        return []
    unweighted = thermal_noise_dbu(150)
    advice = (
        f"No input noise can lie below {LOWEST_EIN_DBU_A:g} dBu A-weighted ({unweighted:.1f} unweighted) with a "
        "150 ohm source: the data sheet's figure was taken some other way."
    )
    return [
        LineFinding(
            kind="ein-below-thermal", value=setup.preamp.ein_dbu, unit="dBu", verdict=Verdict.WATCH, advice=advice
        )
    ]


def _watch(kind: str, value: float, unit: str, advice: str) -> LineFinding:
    return LineFinding(kind=kind, value=value, unit=unit, verdict=Verdict.WATCH, advice=advice)
