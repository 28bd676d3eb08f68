"""Rates and depths with their reasons, for one chain."""

from typing import Final

from pneumen.wording.figures import figure, kilohertz
from pneumen.wording.language import _

ROUNDING_16_DBFS: Final = -101.1
"""RMS of the rounding to 16 bits, where a full-scale sine is −3.01: −(6.02 N + 1.76) − 3.01 dB."""
MARGIN_DB: Final = 10.0
RATES: Final = {
    44_100: _("44.1 kHz: what songs are released at; it holds all that is heard."),
    48_000: _("48 kHz: what films and video want."),
    96_000: _("96 kHz: twice the disk and the work; half the delay of a buffer; nothing that is heard."),
}
NO_MATTER: Final = _(
    "16 bits would do here: the chain’s own noise, {noise} dBFS, lies {over} dB over their rounding. 24 bits cost half "
    "as much disk again and let the level stay low."
)
MATTERS: Final = _(
    "24 bits: the chain’s own noise, {noise} dBFS, comes near the rounding of 16 bits at −{rounding} dBFS."
)
OTHER_RATE: Final = _("It is at {rate}, and {planned} is planned: set device and project to {planned}.")
FEW_BITS: Final = _("It has {bits} bits, and 24 are planned.")
BITS: Final = {"PCM_U8": 8, "PCM_S8": 8, "PCM_16": 16}
"""Encodings with fewer bits than are planned."""
DISK: Final = _("An hour of one mono track: {mb} MB at 24 bits.")


def formats_told(sample_rate_hz: int, noise_dbfs: float) -> tuple[str, ...]:
    """Say why this rate and depth, and what it costs.

    Args:
        noise_dbfs: the noise of the chain, A-weighted RMS, as every screen tells it.
    """
    over_db = noise_dbfs - ROUNDING_16_DBFS
    depth = NO_MATTER if over_db >= MARGIN_DB else MATTERS
    return (
        RATES.get(sample_rate_hz, f"{kilohertz(sample_rate_hz)}."),
        depth.format(noise=figure(noise_dbfs), over=figure(over_db), rounding=figure(-ROUNDING_16_DBFS)),
        DISK.format(mb=figure(sample_rate_hz * 3 * 3600 / 1e6)),
    )


def format_told(sample_rate_hz: int, encoding: str, planned_hz: int) -> tuple[str, ...]:
    """Say where a recording is not of the format that was planned."""
    told = []
    if sample_rate_hz != planned_hz:
        told.append(OTHER_RATE.format(rate=kilohertz(sample_rate_hz), planned=kilohertz(planned_hz)))
    if encoding in BITS:
        told.append(FEW_BITS.format(bits=BITS[encoding]))
    return tuple(told)
