"""48 volts: missing, harmful, shared, held up on the way, and what is left of them under load."""

from collections.abc import Iterator
from typing import Final

from pneumen.core.errors import require_within
from pneumen.core.hookup.chain import Cable, Chain
from pneumen.core.hookup.device import Device
from pneumen.core.hookup.finding import Fault
from pneumen.core.hookup.kinds import DI_BOXES
from pneumen.core.verdict import Verdict

SUPPLY_V: Final = 48.0
FEED_OHM: Final = 6_800.0
"""One resistor in each leg; both feed at once (IEC 61938, P48, from memory)."""
MOST_MA: Final = 10.0
"""What a P48 supply gives one microphone (IEC 61938, from memory)."""


def phantom_voltage(current_ma: float) -> float:
    """Return what is left of 48 V at a microphone that draws so much current.

    Raises:
        OutOfRange: for more than the supply gives.

    Reference: IEC 61938, P48: 6.8 kohm in each leg (from memory).

    >>> round(phantom_voltage(4.0), 1)
    34.4
    """
    require_within("current_ma", current_ma, 0, MOST_MA)
    return SUPPLY_V - current_ma / 1000 * FEED_OHM / 2


def phantom_faults(chain: Chain) -> Iterator[Fault]:
    """Yield what 48 V do wrong, by what is plugged into each microphone input."""
    for cable, direct, device in chain.inputs:
        if not device.facts.feeds_phantom:
            yield from _behind_a_box(chain, cable, direct, device)
            continue
        on = device.phantom_on(cable.to_port)
        last, source = chain.origin_of(cable)
        if source.fears_phantom:
            yield from _harm(chain, cable, source, device, on=on)
        if source.wants_phantom and not on:
            # A dry input feeds nothing, and neither does one that is set to a line or an instrument.
            yield _missing(cable, source)
        if on and source.wants_phantom and (source.current_ma or 0.0) > MOST_MA:
            figures = {"draws_ma": source.current_ma or 0.0, "most_ma": MOST_MA}
            words = {"source": source.id, "device": device.id}
            yield Fault(code="phantom-sag", verdict=Verdict.MENDABLE, at=cable.ends_at, figures=figures, words=words)
        unbalanced = not (cable.is_balanced and last.is_balanced)
        if on and not source.facts.needs_phantom and unbalanced and source.facts.microphone:
            yield Fault(code="phantom-unbalanced", verdict=Verdict.WATCH, at=cable.ends_at, words={"source": source.id})


def _harm(chain: Chain, cable: Cable, source: Device, device: Device, *, on: bool) -> Iterator[Fault]:
    words = {"source": source.id, "device": device.id}
    if on:
        yield Fault(code="ribbon-phantom", verdict=Verdict.STOP, at=cable.ends_at, words=words)
    if device.switch_known and not device.phantom_shared:
        return
    for other in chain.into(device.id):
        _, beside = chain.origin_of(other)
        if other is not cable and beside.wants_phantom and device.carries(other.to_port) == "mic":
            more = {"other": beside.id, "other_port": other.to_port}
            verdict = Verdict.STOP if device.phantom_shared else Verdict.WATCH
            more |= {} if device.phantom_shared else {"case": "unknown"}
            yield Fault(code="phantom-shared-ribbon", verdict=verdict, at=cable.ends_at, words=words | more)
            return


def _behind_a_box(chain: Chain, cable: Cable, source: Device, box: Device) -> Iterator[Fault]:
    """A microphone behind a booster or a DI box gets no 48 V through it, and a ribbon is safe there."""
    if source.facts.microphone and source.wants_phantom and box.kind in ("inline-booster", *DI_BOXES):
        yield Fault(
            code="condenser-no-phantom",
            verdict=Verdict.BAKED_IN,
            at=cable.ends_at,
            words={"source": source.id, "held_by": box.id},
        )


def _missing(cable: Cable, source: Device) -> Fault:
    code = "condenser-no-phantom" if source.facts.microphone else "phantom-missing"
    return Fault(code=code, verdict=Verdict.BAKED_IN, at=cable.ends_at, words={"source": source.id})
