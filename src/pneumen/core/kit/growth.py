"""What a kit lets one do later, and how much there is to learn before the first take."""

from collections.abc import Iterator
from dataclasses import dataclass

from pneumen.core.hookup import SOFTWARE_STEPS, plugging_acts
from pneumen.core.kit.connected import Recorded, connected
from pneumen.core.kit.item import Item
from pneumen.core.kit.needs import Needs
from pneumen.core.kit.things import pieces_of
from pneumen.core.kit.written import Kit
from pneumen.core.part import Source

USUAL_LEARNING = 3
"""How much recording software asks to be learnt where its entry does not say, 1 an evening to 4 months."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Growth:
    """One thing a kit leaves open for later, or does not: kind, and how many where it counts something."""

    kind: str
    count: int = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class Burden:
    """How much there is to learn: steps from silence to a moving meter, and the software (1 an evening, 4 months)."""

    steps: int
    software: int


def growth_of(needs: Needs, kit: Kit) -> tuple[Growth, ...]:
    """Return what a kit lets one do later beside what it is for."""
    hub = kit.hub
    if hub is None:
        return (Growth(kind="one-cable"),)
    if hub.kind == "recorder":
        return Growth(kind="anywhere"), Growth(kind="own-pair")
    return tuple(_behind_interface(needs, kit, hub))


def _behind_interface(needs: Needs, kit: Kit, hub: Item) -> Iterator[Growth]:
    used = max(
        sum(pieces_of(kit.voices[n], needs.parts[n].channels) for n in session if kit.voices[n].microphone)
        for session in needs.sessions
    )
    free = (1 if hub.mic_inputs is None else hub.mic_inputs) - used
    yield Growth(kind="more-microphones", count=free) if free > 0 else Growth(kind="no-more-microphones")
    if hub.instrument_inputs:
        yield Growth(kind="instruments", count=hub.instrument_inputs)
    if hub.line_outputs is None or hub.line_outputs >= 2:
        yield Growth(kind="monitors")
    yield Growth(kind="any-microphone" if hub.phantom != "none" else "no-condensers")


def burden_of(kit: Kit, source: Source) -> Burden:
    """Return how much there is to learn before the first take; a recorder asks for no software."""
    voice, hub = kit.voices[0], kit.hub
    part = Recorded(
        name="part",
        source=source,
        microphone=voice.microphone,
        hub=hub,
        booster=voice.booster,
        box=voice.box,
    )
    steps = len(plugging_acts(connected([part]).chain))
    if hub is not None and hub.kind == "recorder":
        return Burden(steps=steps, software=0)
    steps += len(SOFTWARE_STEPS)
    learning = [line.item.learning or USUAL_LEARNING for line in kit.lines if line.kind == "software" and line.item]
    return Burden(steps=steps, software=max(learning, default=USUAL_LEARNING))
