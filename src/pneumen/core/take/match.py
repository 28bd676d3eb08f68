"""Two takes at one loudness, so that the louder is not taken for the better."""

from pneumen.core.take.measurement import Level


def matching_volumes(one: Level, other: Level) -> tuple[float, float]:
    """Return the volumes, 0 to 1, at which two takes are alike in loudness: the louder is turned down, none up.

    Programme loudness decides (ITU-R BS.1770), or the active RMS where one of them is too short or soft for it.
    """
    levels = (one.loudness_lufs, other.loudness_lufs)
    if None in levels:
        levels = (one.active_rms_dbfs, other.active_rms_dbfs)
    first, second = levels
    if first is None or second is None:
        return 1.0, 1.0
    softer = min(first, second)
    return 10 ** ((softer - first) / 20), 10 ** ((softer - second) / 20)
