"""The small things of a voice and of a hub: what has to be bought, taken or borrowed beside the devices."""

from pneumen.core.kit.accessories import Piece, Shelf, SmallThing, for_hub, for_microphone, for_plug
from pneumen.core.kit.evaluate import Voice
from pneumen.core.kit.item import Item
from pneumen.core.kit.needs import Needs


def things_of_voice(
    needs: Needs, shelf: Shelf, voice: Voice, parts: tuple[int, ...], pieces: tuple[Piece, ...]
) -> list[SmallThing]:
    """Return the small things a voice needs for its parts, pieces among them that are there already.

    Raises:
        Missing: where the catalogue has none of one.
    """
    if voice.microphone is None:
        return list(for_plug(shelf, boxed=voice.box is not None, pieces=pieces))
    boosted = voice.booster is not None
    return list(for_microphone(shelf, needs, voice.microphone, parts, boosted=boosted, pieces=pieces))


def things_of_hub(needs: Needs, shelf: Shelf, hub: Item | None) -> list[SmallThing]:
    """Return the small things beside the microphones.

    Raises:
        Missing: where the catalogue has none of one.
    """
    return list(for_hub(shelf, needs, hub))
