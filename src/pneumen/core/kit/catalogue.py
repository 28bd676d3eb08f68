"""The built-in catalogue: invented gear with believable data sheets."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cache
from importlib.resources import files
from types import MappingProxyType
from typing import Final

import msgspec

from pneumen.core.errors import UnknownName, require_within
from pneumen.core.gear import (
    INTERFACE_FAMILIES,
    MICROPHONE_FAMILIES,
    InterfaceFamily,
    MicrophoneFamily,
    interface_from_sheet,
    microphone_from_sheet,
)
from pneumen.core.setup import Chain

KIND_LABELS: Final[Mapping[str, str]] = MappingProxyType(
    {
        "microphone": "Microphone",
        "interface": "Interface",
        "booster": "Inline booster",
        "boom-stand": "Boom stand",
        "desk-stand": "Desk stand",
        "stand-clip": "Stand clip",
        "pop-filter": "Pop filter",
        "foam-windscreen": "Foam windscreen",
        "shock-mount": "Shock mount",
        "xlr-cable": "XLR cable",
        "usb-cable": "USB cable",
        "headphones": "Closed headphones",
        "phones-adapter": "Headphone adapter",
        "software": "Recording software",
        "booth-materials": "Blankets, clamps and a pole",
    }
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Item:
    """One thing that can be bought (or is owned): what it is, what it costs, what lies in its box."""

    id: str
    kind: str
    name: str
    price: float
    in_box: tuple[str, ...] = ()
    family: str = ""
    sheet: Mapping[str, float | str] = field(default_factory=dict)
    tone: str = ""
    inputs: int = 1
    phones_plug: str = ""
    gain_marking: str = "none"
    gain_max_db: float = 0.0
    gain_db: float = 0.0
    owned: bool = False

    def __post_init__(self) -> None:
        if self.kind not in KIND_LABELS:
            raise UnknownName("kind", self.kind, tuple(KIND_LABELS))
        require_within("price", self.price, 0, 1_000_000)
        if self.kind == "microphone":
            microphone_from_sheet(self.family, self.sheet)
        elif self.kind == "interface":
            interface_from_sheet(self.family, self.sheet)

    @property
    def microphone_family(self) -> MicrophoneFamily:
        return MICROPHONE_FAMILIES[self.family]

    @property
    def interface_family(self) -> InterfaceFamily:
        return INTERFACE_FAMILIES[self.family]


@dataclass(frozen=True, slots=True, kw_only=True)
class _Catalogue:
    items: tuple[Item, ...]


@cache
def built_in_catalogue() -> tuple[Item, ...]:
    """Return the catalogue that ships with the product."""
    document = files("pneumen.core.data").joinpath("catalogue.json").read_bytes()
    return msgspec.json.decode(document, type=_Catalogue).items


def item_named(item_id: str) -> Item:
    """Return an item of the built-in catalogue.

    Raises:
        UnknownName: if there is none of that id.
    """
    for item in built_in_catalogue():
        if item.id == item_id:
            return item
    raise UnknownName("item", item_id, tuple(item.id for item in built_in_catalogue()))


def chain_of(microphone: Item, interface: Item | None, booster: Item | None = None) -> Chain:
    """Return the chain a microphone makes with an interface (none behind a USB plug) and perhaps a booster."""
    sheet, _, band_db = microphone_from_sheet(microphone.family, microphone.sheet)
    if microphone.microphone_family.plug == "usb":
        return Chain(
            microphone=sheet,
            microphone_band_db=band_db,
            usb_gain_marking=microphone.gain_marking,
            usb_gain_max_db=microphone.gain_max_db,
        )
    interface_sheet, _, interface_band_db = interface_from_sheet(interface.family, interface.sheet)
    return Chain(
        microphone=sheet,
        microphone_band_db=band_db,
        interface=interface_sheet,
        interface_band_db=interface_band_db,
        booster_db=booster.gain_db if booster else 0.0,
    )
