"""What a person chose at a joint: another lead, another setting, another outlet; each cures or brings about a fault."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Final

from pneumen.core.errors import OutOfRange, UnknownName, require_positive
from pneumen.core.hookup.additions import ADDITIONS, SPEAKER_ENDS, with_speaker_end
from pneumen.core.hookup.chain import LONGEST_M, Cable, Chain, Device
from pneumen.core.hookup.kinds import INPUT_MODES

ON_OFF: Final = ("on", "off")
DI_BOXES: Final = ("active-di", "passive-di")
OTHER_OUTLET: Final = "another outlet"
VALUES: Final = {
    "also": ON_OFF,
    "balanced": ("balanced", "unbalanced"),
    "input": INPUT_MODES,
    "phantom": ON_OFF,
    "lift": ON_OFF,
    "outlet": ("strip", "other"),
    "speaker": SPEAKER_ENDS,
    "box": ("active", "passive"),
    "plugged": ("in", "out"),
    "plug": ("3.5 mm", "6.35 mm"),
}
"""What can be chosen, by what it is about; a length is a number of metres."""
CHOICES: Final = ("length", *VALUES)
ORDER: Final = ("also", "speaker", "box")
"""What decides which joints there are comes before what is chosen at them, unplugging last of all."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Choice:
    """One choice: about what, at which port or device, and what was chosen.

    Raises:
        UnknownName: for what cannot be chosen.
        OutOfRange: for a length nobody makes.
    """

    what: str
    at: str
    value: str

    def __post_init__(self) -> None:
        if self.what not in CHOICES:
            raise UnknownName("what", self.what, CHOICES)
        if self.what == "length":
            try:
                require_positive("length_m", float(self.value), LONGEST_M)
            except OutOfRange:
                raise
            except ValueError:
                raise UnknownName("length", self.value, ("a number of metres",)) from None
        elif self.value not in VALUES[self.what]:
            raise UnknownName(self.what, self.value, VALUES[self.what])


def with_choices(chain: Chain, choices: Iterable[Choice]) -> Chain:
    """Return a chain as it was chosen, what was added first; what is about a joint that is gone is left aside."""
    for choice in sorted(choices, key=lambda one: ORDER.index(one.what) if one.what in ORDER else len(ORDER)):
        chain = _with(chain, choice)
    return chain


def _with(chain: Chain, choice: Choice) -> Chain:
    if choice.what in ("length", "balanced"):
        return replace(chain, cables=tuple(_cable(one, choice) for one in chain.cables))
    match choice.what:
        case "outlet":
            return _plugged_elsewhere(chain, choice)
        case "also":
            return ADDITIONS[choice.at](chain) if choice.value == "on" and choice.at in ADDITIONS else chain
        case "speaker":
            return with_speaker_end(chain, choice.at, choice.value) if choice.at in chain.by_id else chain
        case "plugged":
            left = tuple(one for one in chain.cables if choice.value == "in" or one.ends_at != choice.at)
            return replace(chain, cables=left)
    device_id, _, port = choice.at.partition(".")
    return replace(
        chain, devices=tuple(_device(one, port, choice) if one.id == device_id else one for one in chain.devices)
    )


def _cable(cable: Cable, choice: Choice) -> Cable:
    if cable.ends_at != choice.at:
        return cable
    if choice.what == "length":
        return replace(cable, length_m=float(choice.value))
    return replace(cable, balanced=choice.value == "balanced")


def _device(device: Device, port: str, choice: Choice) -> Device:
    match choice.what:
        case "input":
            return replace(device, inputs={**device.inputs, port: choice.value})
        case "phantom":
            return replace(device, phantom={**device.phantom, port: choice.value == "on"})
        case "box":
            return replace(device, kind=f"{choice.value}-di") if device.kind in DI_BOXES else device
        case "plug":
            return replace(device, plug=choice.value)
        case _:
            return replace(device, ground_lift=choice.value == "on")


def _plugged_elsewhere(chain: Chain, choice: Choice) -> Chain:
    """Move a mains plug to an outlet of its own, or to where the others are."""
    outlets = [one.id for one in chain.of_kind("mains-outlet")]
    plugs = [one for one in chain.cables if one.connector == "mains"]
    if not any(one.to_device == choice.at for one in plugs):
        return chain
    others = [one.from_device for one in plugs if one.to_device != choice.at] or outlets
    wall = max(others, key=others.count) if choice.value == "strip" else OTHER_OUTLET
    added = () if wall in outlets else (Device(id=wall, kind="mains-outlet"),)
    cables = tuple(
        replace(one, from_device=wall) if one in plugs and one.to_device == choice.at else one for one in chain.cables
    )
    return Chain(devices=(*chain.devices, *added), cables=cables)
