"""The small things of a voice and of a hub: what has to be bought, taken or borrowed beside the devices."""

from collections import Counter
from collections.abc import Iterable, Sequence
from functools import partial

from pneumen.core.kit.accessories import (
    SMALL_KINDS,
    Missing,
    Piece,
    Shelf,
    SmallThing,
    for_hub,
    for_microphone,
    for_plug,
)
from pneumen.core.kit.evaluate import Voice
from pneumen.core.kit.item import Item
from pneumen.core.kit.needs import Needs
from pneumen.core.kit.offers import Offer


def things_of_voice(
    needs: Needs, shelf: Shelf, voice: Voice, parts: tuple[int, ...], pieces: tuple[Piece, ...]
) -> list[SmallThing]:
    """Return the small things a voice needs for its parts, pieces among them that are there already.

    Raises:
        Missing: where the catalogue has none of one.
    """
    stock, things = list(pieces), list[SmallThing]()
    for _ in range(pieces_of(voice, needs.channels_for(parts))):
        if voice.microphone is None:
            things += for_plug(shelf, needs, boxed=voice.box is not None, stock=stock)
        else:
            boosted = voice.booster is not None
            things += for_microphone(shelf, needs, voice.microphone, parts, boosted=boosted, stock=stock)
    return things


def served(needs: Needs, asked: Sequence[Sequence[SmallThing]]) -> list[SmallThing]:
    """Return the small things that several voices ask for; what is there already serves each that takes its turn."""
    if needs.most_at_once > 1:
        return [thing for things in asked for thing in things]
    here, bought = Counter[SmallThing](), list[SmallThing]()
    for things in asked:
        here |= Counter(thing for thing in things if thing.price == 0)
        bought += [thing for thing in things if thing.price > 0]
    return [*here.elements(), *bought]


def pieces_of(voice: Voice, channels: int) -> int:
    """Return how often a voice is there to fill some channels: once where it brings a capsule for each."""
    own_pair = voice.microphone is not None and voice.microphone.kind == "recorder"
    return 1 if own_pair else channels


def devices_of(shelf: Shelf, voice: Voice, channels: int) -> list[tuple[Item, float]]:
    """Return a voice's devices with what each piece costs; a recorder is its own hub and counts there."""
    count, found = pieces_of(voice, channels), list[tuple[Item, float]]()
    for item in voice.devices:
        if item.kind != "recorder":
            found += [(item, shelf.cost(item)), *[(item, shelf.next_cost(item))] * (count - 1)]
    return found


def things_of_hub(needs: Needs, shelf: Shelf, hub: Item | None) -> list[SmallThing]:
    """Return the small things beside the microphones.

    Raises:
        Missing: where the catalogue has none of one.
    """
    return list(for_hub(shelf, needs, hub))


def dearest_small_things(needs: Needs, shelf: Shelf, offers: Iterable[Offer]) -> dict[str, float]:
    """Return the most that any kit pays for one small thing of each kind; infinite for all where one is missing."""
    paid, voices = dict.fromkeys(SMALL_KINDS, 0.0), dict[tuple, Voice]()
    asked = []
    for offer in offers:
        voices |= {voice.wants: voice for voice in offer.voices}
        asked += [partial(things_of_hub, needs, shelf, hub) for hub in offer.hubs]
    pieces = shelf.pieces if needs.most_at_once == 1 else ()
    for number, part in enumerate(needs.parts):
        fitting = [voice for voice in voices.values() if (voice.microphone is None) == part.is_plugged]
        asked += [partial(things_of_voice, needs, shelf, voice, (number,), pieces) for voice in fitting]
    for things in asked:
        try:
            for thing in things():
                paid[thing.kind] = max(paid[thing.kind], thing.price)
        except Missing:
            return dict.fromkeys(SMALL_KINDS, float("inf"))
    return paid
