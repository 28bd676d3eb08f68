"""The built-in catalogue, invented for this product, and the chains its items make."""

from dataclasses import dataclass, replace
from functools import cache
from importlib.resources import files

from pneumen.core.errors import UnknownName, given
from pneumen.core.gear import (
    INTERFACE_FAMILIES,
    MICROPHONE_FAMILIES,
    RECORDER_FAMILY,
    Interface,
    UsbMicrophone,
    interface_from_sheet,
    microphone_from_sheet,
)
from pneumen.core.kit.formats import catalogue_from_csv
from pneumen.core.kit.item import Item
from pneumen.core.part import Source
from pneumen.core.setup import AS_USUAL, Before, DiBox, MikedChain, PluggedChain, RecorderChain, UsbChain, XlrChain

BOXED_OUTPUT_OHM = 150.0
HIGHEST_OUTPUT_DBU = 200.0
"""What is taken of a DI box that does not say: a microphone's impedance, and no ceiling of its own."""
LINE_INPUT_OHM = 10_000.0
LINE_PAD_DB = 12.0
"""A line input's impedance, and how much more than the microphone input it takes (common practice, no source)."""
USB_DIAL_DB = 30.0
USB_SLIDER_DB = 20.0
"""What a dial, and a computer's input slider, commonly span (common practice, no source)."""
"""The reach of a small dial on a USB microphone where nothing is known of it (estimate)."""


@cache
def built_in_catalogue() -> tuple[Item, ...]:
    """Return the catalogue that ships with the product: figures lie where data sheets of such gear commonly lie."""
    return catalogue_from_csv(files("pneumen.core.data").joinpath("catalogue.csv").read_bytes())


def item_named(item_id: str, catalogue: tuple[Item, ...] | None = None) -> Item:
    """Return an item of a catalogue, the built-in one where none is given.

    Raises:
        UnknownName: if there is none of that id.
    """
    items = built_in_catalogue() if catalogue is None else catalogue
    for item in items:
        if item.id == item_id:
            return item
    raise UnknownName("item", item_id, tuple(item.id for item in items))


def chain_of(
    microphone: Item, interface: Item | None, booster: Item | None = None, pad: Item | None = None
) -> MikedChain:
    """Return the chain a microphone makes with an interface (none behind a USB plug), perhaps a booster or a pad."""
    if microphone.kind == "recorder":
        return _recorder_chain(microphone)
    sheet, _, band_db = microphone_from_sheet(microphone.family, microphone.sheet)
    if isinstance(sheet, UsbMicrophone):
        marking = microphone.gain_marking or "none"
        slider = marking == "slider"
        usual_db = USB_SLIDER_DB if slider else USB_DIAL_DB
        most_db = usual_db if microphone.gain_max_db is None else microphone.gain_max_db
        return UsbChain(
            microphone=sheet,
            microphone_band_db=band_db,
            gain_marking="bare" if slider else marking,
            gain_max_db=0.0 if marking == "none" else most_db,
            slider=slider,
        )
    interface = given("interface", interface)
    interface_sheet, _, interface_band_db = interface_from_sheet(interface.family, interface.sheet)
    return XlrChain(
        microphone=sheet,
        microphone_band_db=band_db,
        interface=interface_sheet,
        interface_band_db=interface_band_db,
        booster_db=given("gain_db", booster.gain_db) if booster else 0.0,
        pad_db=_pad_db(pad),
    )


def _pad_db(pad: Item | None) -> float:
    return -given("gain_db", pad.gain_db) if pad else 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Socket:
    """What an instrument's plug meets at an interface: a line or an instrument input."""

    kind: str
    impedance_ohm: float
    interface: Interface


def socket_of(hub: Item, *, passive: bool) -> Socket | None:
    """Return the input that fits an instrument: line for an active output where there is one, else instrument.

    A line input is the same preamp behind a pad, so what it takes and its noise at the input rise together.
    """
    sheet = interface_from_sheet(hub.family, hub.sheet)[0]
    if hub.line_inputs and not passive:
        most_dbu = hub.line_max_input_dbu
        pad_db = LINE_PAD_DB if most_dbu is None else max(most_dbu - sheet.max_input_dbu, 0.0)
        padded = replace(sheet, max_input_dbu=sheet.max_input_dbu + pad_db, ein_dbu=sheet.ein_dbu + pad_db)
        return Socket(kind="line", impedance_ohm=LINE_INPUT_OHM, interface=padded)
    if hub.instrument_inputs:
        return Socket(kind="instrument", impedance_ohm=hub.instrument_ohm, interface=sheet)
    return None


def plugged_chain_of(
    interface: Item, box: Item | None = None, pad: Item | None = None, *, passive: bool, before: Before = AS_USUAL
) -> PluggedChain:
    """Return the chain an instrument's plug meets: the interface's fitting input, or a DI box before it."""
    sheet, _, band_db = interface_from_sheet(interface.family, interface.sheet)
    socket = None if box else socket_of(interface, passive=passive)
    if socket is not None:
        return PluggedChain(
            interface=socket.interface,
            interface_band_db=band_db,
            instrument_ohm=socket.impedance_ohm,
            before=before,
            pad_db=_pad_db(pad),
        )
    di_box = box and DiBox(
        gain_db=given("gain_db", box.gain_db),
        input_impedance_ohm=given("input_impedance_ohm", box.input_impedance_ohm),
        output_ohm=box.impedance_ohm or BOXED_OUTPUT_OHM,
        noise_dbu=given("noise_dbu", box.noise_dbu),
        max_output_dbu=HIGHEST_OUTPUT_DBU if box.max_output_dbu is None else box.max_output_dbu,
    )
    return PluggedChain(
        interface=sheet,
        interface_band_db=band_db,
        instrument_ohm=interface.instrument_ohm,
        box=di_box or None,
        before=before,
        pad_db=_pad_db(pad),
    )


def _recorder_chain(recorder: Item) -> RecorderChain:
    marking = recorder.gain_marking or "bare"
    dial_db = recorder.gain_max_db if recorder.gain_max_db is not None else USB_DIAL_DB
    return RecorderChain(
        microphone=UsbMicrophone(
            full_scale_db_spl=given("full_scale_db_spl", recorder.full_scale_db_spl),
            self_noise_dba=given("self_noise_dba", recorder.self_noise_dba),
            pattern=recorder.pattern or RECORDER_FAMILY.pattern,
        ),
        microphone_band_db=RECORDER_FAMILY.band_db,
        gain_marking=marking,
        gain_max_db=0.0 if marking == "none" else dial_db,
    )


ASSUMED = "assumed-"
"""What the ids of assumed gear begin with."""
STURDY_GROUPS = ("percussion", "amp")


@cache
def assumed_microphone(source: Source) -> Item:
    """Return what is taken for a microphone where there is none yet: a dynamic for drums and amps, else a condenser."""
    family = "dynamic" if source.group in STURDY_GROUPS else "large-condenser"
    name = f"{MICROPHONE_FAMILIES[family].label} (assumed)"
    return Item(id=f"{ASSUMED}{family}", kind="microphone", name=name, price=0, family=family)


@cache
def assumed_interface() -> Item:
    """Return what is taken for an interface where there is none yet: one with a bare knob."""
    return Item(
        id=f"{ASSUMED}interface",
        kind="interface",
        name="Interface (assumed)",
        price=0,
        family="bare-knob",
        mic_inputs=INTERFACE_FAMILIES["bare-knob"].inputs,
        instrument_inputs=1,
        line_inputs=1,
        phones_plug="6.35 mm",
    )
