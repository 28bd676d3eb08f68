"""What the noise is made of, with where it likely comes from (common practice, no source)."""

from typing import Final

from pneumen.core.take import NoisePart
from pneumen.wording.figures import figure
from pneumen.wording.language import _

PARTS: Final = {
    "hum": _(
        "Hum at {hertz} Hz and its multiples, {level} dBFS: mains at {hertz} Hz. A ground loop, an unbalanced lead, a "
        "power supply or a dimmer near lead or pickup."
    ),
    "tone": _(
        "A steady tone at {hertz} Hz, {level} dBFS: a fan, a motor or a transformer in the room. Listen for that pitch "
        "and switch off what sings it."
    ),
    "rumble": _(
        "Rumble below 100 Hz, {level} dBFS: traffic, steps, wind or a floor that trembles. A low-cut takes it off a "
        "voice."
    ),
    "middle": _(
        "From 100 Hz to 1 kHz, {level} dBFS: the street, voices next door, ventilation: another hour, or a door."
    ),
    "hiss": _("Hiss above 1 kHz, {level} dBFS: air from a fan, or microphone and preamp themselves."),
}


def noise_told(part: NoisePart) -> str:
    """Say what one part of the noise is, and where it likely comes from."""
    return PARTS[part.kind].format(hertz=figure(part.hertz), level=figure(part.level_dbfs_a))
