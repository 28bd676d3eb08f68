"""What a take's fault comes from in this setup, in a sentence with its numbers."""

from typing import Final

from pneumen.core.forecast import Mending, Step
from pneumen.wording.chain import remedy_of, why_of
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.lengths import near
from pneumen.wording.setting import NOISE_OF

POPS: Final = _("As it was set up, the air of a P reached the capsule with {speed} m/s; up to {calm} is calm.")
POPS_CALM: Final = _(
    "As it was set up, the air of a P should have reached the capsule with {speed} m/s only, which is calm: the mouth "
    "came nearer, or past the screen."
)
SCREEN: Final = _("A pop screen {before} before it: {speed} m/s")
ASIDE: Final = _("{degrees}° beside the mouth: {speed} m/s")
BACK: Final = _("back to {distance}: {speed} m/s")
SIBILANCE: Final = _("{degrees}° beside the mouth takes {db} dB off an S.")
ECHO: Final = _("The room was believed to ring for {rt60} s, the direct sound to stand {lead} dB over it.")
ECHO_UNKNOWN: Final = _("The direct sound was believed to stand {lead} dB over the room.")
NEARER: Final = _("At {distance} that would be {lead} dB.")
NOISE: Final = _("In this chain {stage} set the noise, {over} dB over the next part of it.")
NOISE_ALONE: Final = _("In this chain {stage} set the noise.")
CLIPPING: Final = _("In this chain {stage} runs out of room first, with the gain at {gain} dB as it was.")
BLEED: Final = _("As the headphones were set up, their leak was believed to lie {db} dB under the sound.")
BOTH_EARS: Final = _("Both cups closed: {db} dB")
SOFTER: Final = _("the backing at {at} dB SPL instead: {db} dB")
HUM: Final = _("As it was connected, {why}: {do}.")
DROPOUT: Final = _("It was recorded with a buffer of {samples} samples.")
LARGER: Final = _("The smallest that this computer is not expected to lose is {samples}.")


def mending_told(one: Mending | None) -> str:
    """Say what the model knows of a fault; "" where it knows nothing."""
    return "" if one is None else _TELL[one.kind](one)


def _pops(one: Mending) -> str:
    speed = figure(one.value, 1)
    if one.is_calm:
        return POPS_CALM.format(speed=speed)
    words = [_step(step) for step in one.steps]
    found = POPS.format(speed=speed, calm=figure(one.limit, 1))
    return f"{found} {_upper('; '.join(words))}." if words else found


def _step(step: Step) -> str:
    speed = figure(step.value, 1)
    if step.kind == "screen":
        return SCREEN.format(before=near(step.to), speed=speed)
    if step.kind == "aside":
        return ASIDE.format(degrees=figure(step.to), speed=speed)
    return BACK.format(distance=near(step.to), speed=speed)


def _sibilance(one: Mending) -> str:
    if not one.steps or one.value is None:
        return ""
    step = one.steps[0]
    return SIBILANCE.format(degrees=figure(step.to), db=figure(one.value - step.value, 1))


def _echo(one: Mending) -> str:
    lead = figure(one.limit)
    found = ECHO_UNKNOWN if one.value is None else ECHO
    told = found.format(rt60=figure(one.value, 2), lead=lead)
    if not one.steps:
        return told
    step = one.steps[0]
    return f"{told} {NEARER.format(distance=near(step.to), lead=figure(step.value))}"


def _noise(one: Mending) -> str:
    stage = NOISE_OF[one.stage]
    if one.value is None:
        return NOISE_ALONE.format(stage=stage)
    return NOISE.format(stage=stage, over=figure(one.value))


def _clipping(one: Mending) -> str:
    return CLIPPING.format(stage=NOISE_OF[one.stage], gain=figure(one.value))


def _bleed(one: Mending) -> str:
    words = [
        BOTH_EARS.format(db=figure(step.value))
        if step.kind == "both-ears"
        else SOFTER.format(at=figure(step.to), db=figure(step.value))
        for step in one.steps
    ]
    told = BLEED.format(db=figure(one.value))
    return f"{told} {_upper('; '.join(words))}." if words else told


def _hum(one: Mending) -> str:
    return "" if one.fault is None else HUM.format(why=why_of(one.fault), do=remedy_of(one.fault))


def _dropout(one: Mending) -> str:
    told = DROPOUT.format(samples=figure(one.value))
    return " ".join([told, *(LARGER.format(samples=figure(step.to)) for step in one.steps)])


def _upper(text: str) -> str:
    return text[:1].upper() + text[1:]


_TELL: Final = {
    "plosive": _pops,
    "sibilance": _sibilance,
    "echo": _echo,
    "noise": _noise,
    "clipping": _clipping,
    "bleed": _bleed,
    "hum": _hum,
    "dropout": _dropout,
}
