"""From one test take to better knowledge: how loud performer and room really are, and how sure that is.

What one take can tell depends on the gain control. Where the gain is known in dB, the file is a sound-level
reading: what it differs from the prediction belongs to the performer. On a bare knob the file shows only level
times gain: the difference is kept for this very knob setting, and advice is relative to it. Ratios within the
file (clean range) hold either way.
"""

from dataclasses import dataclass
from typing import Final

from pneumen.core.levels import band_of_sum_db, power_difference_db, power_sum_db
from pneumen.core.line import Levels, levels_of
from pneumen.core.setup import LineSetup, PluggedSetup, PlugLevels, SourceLevels
from pneumen.core.take.measurement import Measurement

PERFORMANCE_BAND_DB: Final = 3.2
"""How far the next take may lie from what one take told: what holds in 90 to 95 of 100 fresh scenes, people varying by
1 to 2 dB from take to take (benchmarks/bands.py)."""
ROOM_AFTER_BAND_DB: Final = 1.5
CLIPPED_EXTRA_DB: Final = 3.0
"""A clipped peak is a lower bound: so much is added, and as much doubt, since what was cut off is unknown."""
CREST_DOUBT_DB: Final = 3.0
BLOWS: Final = ("plosive", "thump", "click")
"""What may be the highest peak of a file and is no performer: then the body of the take tells of its peaks."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Correction:
    """What a take taught.

    level_offset_db shifts every signal level in the file, for this chain, with level_band_db after it. Where
    absolute, source is how loud the performer really is, with source_band_db (the data sheets stay in doubt);
    else it is only level times gain. room_noise_dba is None where the electronics hide the room; room_is_bound
    where it can only be said to lie below that figure.
    """

    level_offset_db: float
    level_band_db: float
    absolute: bool
    source: SourceLevels | PlugLevels
    source_band_db: float
    room_noise_dba: float | None
    room_band_db: float
    room_is_bound: bool
    lower_bound: bool
    caveats: tuple[str, ...]


def correction_from(
    measurement: Measurement,
    setup: LineSetup,
    *,
    gain_marking: str,
    sheet_band_db: float,
    whole: SourceLevels | PlugLevels | None = None,
) -> Correction | None:
    """Infer performer and room from a take recorded with a setup; None where the take holds nothing to go by.

    Args:
        measurement: of the take.
        setup: the setup as it was believed to be when the take was recorded, its source as loud as in what was played.
        gain_marking: how the chain's gain control is marked; a bare knob leaves levels relative.
        sheet_band_db: how far the chain may lie from its data sheets.
        whole: the levels over the whole part, where the take is of one section; corrected by as much.
    """
    level = measurement.level
    if level.sample_peak_dbfs is None or level.active_rms_dbfs is None or _silent(measurement):
        return None
    believed = levels_of(setup)
    caveats = ["cut-short"] if measurement.format.truncated else []
    clipped = any(finding.kind == "clipping" for finding in measurement.findings)
    peak_dbfs = level.sample_peak_dbfs + (CLIPPED_EXTRA_DB if clipped else 0.0)
    if clipped:
        # The body of the take is cut as well, but less than its peaks: whichever asks for more is nearer the truth.
        peak_dbfs = max(peak_dbfs, level.active_rms_dbfs + believed.peak_dbfs - believed.typical_dbfs)
        caveats.append("clipped")
    usual_peak_dbfs = level.active_rms_dbfs + believed.peak_dbfs - believed.typical_dbfs + CREST_DOUBT_DB
    if peak_dbfs > usual_peak_dbfs and not clipped and any(one.kind in BLOWS for one in measurement.findings):
        peak_dbfs = usual_peak_dbfs
        caveats.append("blown")
    offset_db = peak_dbfs - believed.peak_dbfs
    typical_shift_db = level.active_rms_dbfs - believed.typical_dbfs
    source = (whole or setup.source).shifted(peak_db=offset_db, typical_db=typical_shift_db, quiet_db=typical_shift_db)
    absolute = gain_marking != "bare"
    level_band_db = band_of_sum_db(PERFORMANCE_BAND_DB, CLIPPED_EXTRA_DB if clipped else 0.0)
    room_noise_dba, bound = _room_noise(measurement, setup, believed)
    if measurement.noise.floor_dbfs_a is None:
        caveats.append("no-pause")
    return Correction(
        level_offset_db=offset_db,
        level_band_db=level_band_db,
        absolute=absolute,
        source=source,
        source_band_db=band_of_sum_db(level_band_db, sheet_band_db),
        room_noise_dba=room_noise_dba,
        room_band_db=band_of_sum_db(ROOM_AFTER_BAND_DB, sheet_band_db),
        room_is_bound=bound,
        lower_bound=clipped,
        caveats=tuple(caveats),
    )


def _silent(measurement: Measurement) -> bool:
    return any(finding.kind == "silent" for finding in measurement.findings)


def _room_noise(measurement: Measurement, setup: LineSetup, believed: Levels) -> tuple[float | None, bool]:
    """Return the room's noise in dBA behind a measured floor, and whether it is only an upper bound.

    The electronics' share is taken out by power. Where they make up most of the floor, the room is somewhere
    below: the bound is where it would add as much as they do. A plug hears no room.
    """
    floor_dbfs = measurement.noise.floor_dbfs_a
    if floor_dbfs is None or isinstance(setup, PluggedSetup):
        return None, False
    stages = believed.noise_by_stage_dbfs
    electronics_dbfs = power_sum_db(*(level for stage, level in stages.items() if stage != "room"))
    room_dbfs = power_difference_db(floor_dbfs, electronics_dbfs)
    bound = room_dbfs is None or room_dbfs < electronics_dbfs - 3
    if room_dbfs is None or bound:
        room_dbfs = min(floor_dbfs, electronics_dbfs)
    return setup.room_noise_dba + room_dbfs - stages["room"], bound
