"""The routes to a kit: which hubs and voices there are for these needs, and what each does for each part."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import product
from typing import Final, Self

import numpy as np

from pneumen.core.errors import given
from pneumen.core.kit.accessories import Shelf
from pneumen.core.kit.catalogue import socket_of
from pneumen.core.kit.evaluate import (
    CANNOT,
    Microphones,
    MikedChains,
    Voice,
    clean_ranges_plugged,
    room_lead_db,
    unboosted_of,
)
from pneumen.core.kit.item import Item
from pneumen.core.kit.levels import levels_of_part
from pneumen.core.kit.needs import Needs
from pneumen.core.kit.outclassed import interfaces_worth_trying, microphones_worth_trying

STURDY: Final = 4
"""From here of 5 on a microphone stands rough hands (common practice: dynamics do, condensers and ribbons do not)."""
HUBS_AT_ONCE: Final = 8
"""So many interfaces are worked out together: enough to be fast, few enough to stay small."""


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Offer:
    """Hubs of one route and the voices behind them: clean ranges (hub, part, voice), room leads (part, voice).

    What anything costs is not said here: the same offer serves with each bundle. unboosted tells, of the same shape as
    the clean ranges, where a voice's booster is better left out; None where no voice has one.
    """

    hubs: tuple[Item | None, ...]
    voices: tuple[Voice, ...]
    clean_db: np.ndarray
    lead_db: np.ndarray
    unboosted: np.ndarray | None = None

    def with_hubs(self, wanted: Callable[[Item | None], bool]) -> Self:
        """Return the same with only some of its hubs."""
        return self.only([number for number, hub in enumerate(self.hubs) if wanted(hub)])

    def only(self, numbers: list[int]) -> Self:
        """Return the same with the hubs of these numbers."""
        return replace(
            self,
            hubs=tuple(self.hubs[number] for number in numbers),
            clean_db=self.clean_db[numbers],
            unboosted=None if self.unboosted is None else self.unboosted[numbers],
        )

    def leaves_booster_out(self, hub: int, part: int, voice: int) -> bool:
        """Tell whether a part is better recorded without a voice's booster."""
        return self.unboosted is not None and bool(self.unboosted[hub, part, voice])

    def with_plugs(self, boxed: dict[int, bool]) -> Self:
        """Return the same with some plugged parts bound to go through a box, or to go without."""
        clean_db = self.clean_db.copy()
        for part, wanted in boxed.items():
            others = [n for n, voice in enumerate(self.voices) if (voice.box is not None) != wanted]
            clean_db[:, part, others] = CANNOT
        return replace(self, clean_db=clean_db)

    def with_voices(self, assigned: dict[int, str]) -> Self:
        """Return the same with some parts bound to a microphone each, by its id."""
        clean_db = self.clean_db.copy()
        for part, wanted in assigned.items():
            others = [n for n, voice in enumerate(self.voices) if not voice.microphone or voice.microphone.id != wanted]
            clean_db[:, part, others] = CANNOT
        return replace(self, clean_db=clean_db)


def offers_of(needs: Needs, shelf: Shelf) -> Iterator[Offer]:
    """Yield the routes these needs leave open, each with the voices that could serve."""
    miked = not needs.plugged
    microphones = [
        item for item in shelf.things("microphone") if item.works_with(needs.computer) and is_as_wished(needs, item)
    ]
    if (
        needs.computer != "none"
        and needs.route in ("any", "usb")
        and miked
        and needs.most_inputs == 1
        and not needs.monitors
    ):
        yield from _usb_offer(needs, [item for item in microphones if item.microphone_family.plug == "usb"])
    if needs.computer != "none" and needs.route in ("any", "interface"):
        yield from _interface_offer(
            needs, shelf, [item for item in microphones if item.microphone_family.plug == "xlr"]
        )
    if needs.route in ("any", "recorder") and miked and needs.most_at_once == 1 and not needs.monitors:
        yield from _recorder_offers(needs, shelf)


def is_as_wished(needs: Needs, microphone: Item) -> bool:
    """Tell whether a microphone has the tone and the hardness wished for, or must be in the kit whatever it is."""
    if microphone.id in needs.must:
        return True
    sturdy = not needs.lent or microphone.owned or (microphone.sturdy or STURDY) >= STURDY
    return sturdy and (not needs.tone or microphone.tone in ("", needs.tone))


def _offer(needs: Needs, hubs: Sequence[Item | None], voices: list[Voice], clean_db: np.ndarray) -> Offer:
    lead_of = {
        (number, pattern): room_lead_db(part, pattern)
        for number, part in enumerate(needs.parts)
        for pattern in {voice.pattern for voice in voices}
    }
    leads = [
        [
            lead_of[number, voice.pattern] if (voice.microphone is None) == part.is_plugged else CANNOT
            for voice in voices
        ]
        for number, part in enumerate(needs.parts)
    ]
    return Offer(hubs=tuple(hubs), voices=tuple(voices), clean_db=clean_db, lead_db=np.array(leads))


def _interface_offer(needs: Needs, shelf: Shelf, microphones: list[Item]) -> Iterator[Offer]:
    hubs = [hub for hub in shelf.things("interface") if hub.works_with(needs.computer) and has_inputs(needs, hub)]
    voices = [Voice(microphone=one) for one in microphones]
    for booster in _distinct_boosters(shelf.things("booster")):
        voices += [
            Voice(microphone=one, booster=booster) for one in microphones if not one.microphone_family.needs_phantom
        ]
    plugs = [Voice(), *(Voice(box=box) for box in shelf.things("di-box"))] if needs.plugged else []
    miked = Microphones.of(needs, voices) if voices and len(needs.plugged) < len(needs.parts) else None
    if not hubs or not (miked or plugs):
        return
    if miked:
        miked = microphones_worth_trying(needs, shelf, hubs, miked)
    hubs = interfaces_worth_trying(needs, shelf, hubs, miked, plugs)
    voices = miked.voices if miked else []
    clean = np.full((len(hubs), len(needs.parts), len(voices) + len(plugs)), CANNOT)
    for start in range(0, len(hubs), HUBS_AT_ONCE):
        some = slice(start, start + HUBS_AT_ONCE)
        chains = MikedChains(needs, hubs[some], miked) if miked else None
        for number, part in enumerate(needs.parts):
            if part.is_plugged:
                clean[some, number, len(voices) :] = clean_ranges_plugged(needs, part, hubs[some], plugs)
            elif chains:
                clean[some, number, : len(voices)] = chains.clean_ranges(number)
    offer = _offer(needs, hubs, [*voices, *plugs], clean)
    yield from _by_inputs(needs, _with_boosters_left_out(offer) if miked else offer)


def _with_boosters_left_out(offer: Offer) -> Offer:
    """Return an offer whose boosters are used only for the parts that gain by them: each is quickly left out."""
    plain_db = offer.clean_db[:, :, unboosted_of(offer.voices)]
    boosted = np.array([voice.booster is not None for voice in offer.voices])
    unboosted = boosted & (plain_db >= offer.clean_db)
    return replace(offer, clean_db=np.where(unboosted, plain_db, offer.clean_db), unboosted=unboosted)


def has_inputs(needs: Needs, hub: Item) -> bool:
    """Tell whether all that is recorded together finds an input, and monitors an output."""
    outputs = not needs.monitors or hub.line_outputs is None or hub.line_outputs >= 2
    return outputs and any(True for _ in ways_to_plug(needs, hub))


def ways_to_plug(needs: Needs, hub: Item) -> Iterator[tuple[bool, ...]]:
    """Yield every way to give all that is recorded together an input: for each plugged part, through a box or not.

    A box takes a microphone input; without one an active output takes a line input, a pickup an instrument input.
    """
    plugged = sorted(needs.plugged)
    for way in product((False, True), repeat=len(plugged)):
        boxed = dict(zip(plugged, way, strict=True))
        if all(_finds_inputs(needs, hub, session, boxed) for session in needs.sessions):
            yield way


def _finds_inputs(needs: Needs, hub: Item, session: tuple[int, ...], boxed: dict[int, bool]) -> bool:
    used = {"mic": 0, "instrument": 0, "line": 0}
    for number in session:
        socket = None if boxed.get(number, True) else socket_of(hub, passive=needs.parts[number].source.is_passive)
        if not boxed.get(number, True) and socket is None:
            return False
        used[socket.kind if socket else "mic"] += needs.parts[number].channels
    fits = all(count <= hub.inputs_of(kind) for kind, count in used.items())
    return fits and max(needs.channels_of(session), needs.inputs_at_once) <= hub.inputs


def _by_inputs(needs: Needs, offer: Offer) -> Iterator[Offer]:
    """Yield an offer once for each way to plug in, with the hubs that have the inputs; whole where all ways will do."""
    if len(needs.plugged) == 0 or needs.most_inputs == 1:
        yield offer
        return
    ways = [frozenset(ways_to_plug(needs, given("interface", hub))) for hub in offer.hubs]
    plugged = sorted(needs.plugged)
    for allowed in dict.fromkeys(ways):
        some = offer.only([number for number, way in enumerate(ways) if way == allowed])
        if len(allowed) == 2 ** len(plugged):
            yield some
        else:
            yield from (some.with_plugs(dict(zip(plugged, way, strict=True))) for way in sorted(allowed))


def _distinct_boosters(boosters: list[Item]) -> list[Item]:
    """Of boosters that add the same, the cheapest stands for all."""
    kept: dict[float, Item] = {}
    for booster in boosters:
        kept.setdefault(given("gain_db", booster.gain_db), booster)
    return list(kept.values())


def _usb_offer(needs: Needs, microphones: list[Item]) -> Iterator[Offer]:
    if not microphones:
        return
    voices = [Voice(microphone=one) for one in microphones]
    yield _offer(needs, [None], voices, _built_in_ranges(needs, microphones)[None])


def _recorder_offers(needs: Needs, shelf: Shelf) -> Iterator[Offer]:
    """Yield each recorder with its own pair of microphones as the one voice."""
    for recorder in shelf.things("recorder"):
        voice = Voice(microphone=recorder)
        free = _offer(needs, [recorder], [voice], _built_in_ranges(needs, [recorder])[None])
        yield free


def _built_in_ranges(needs: Needs, items: list[Item]) -> np.ndarray:
    """Return the clean range of each part with microphones that bring their own converter, shape (parts, items)."""
    ranges = np.full((len(needs.parts), len(items)), CANNOT)
    for row, part in enumerate(needs.parts):
        for column, item in enumerate(items):
            found = levels_of_part(needs, part, None, Voice(microphone=item))
            if found is not None and not (needs.overload_spared and found.spare_db < part.band_db):
                ranges[row, column] = found.levels.clean_range_db
    return ranges
