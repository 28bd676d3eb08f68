"""What every voice of an offer costs with its small things, for each way to share out parts and what is there once."""

from collections.abc import Iterable, Iterator
from itertools import product
from typing import Final

import numpy as np

from pneumen.core.kit.accessories import Missing, Piece, Shelf
from pneumen.core.kit.evaluate import CANNOT, Voice
from pneumen.core.kit.needs import Needs
from pneumen.core.kit.offers import Offer
from pneumen.core.kit.outclassed import Rows
from pneumen.core.kit.things import devices_of, things_of_voice

MOST_FREE: Final = 6
"""So many owned devices are shared out among parts recorded together; the others may be counted twice."""
MOST_RIVALS: Final = 400
"""So many voices are held against each other at the most: more would cost more time than it saves."""


class VoicePrices:
    """What every voice costs with its small things, by the parts it serves; infinite where something is missing.

    shares are the ways to share out parts and the pieces there once; useful are the voices that no strictly cheaper
    one equals, for every part behind every hub worth trying.
    """

    def __init__(
        self, needs: Needs, shelf: Shelf, offer: Offer, sharings: list[tuple[tuple[int, ...], ...]], hubs: list[int]
    ) -> None:
        self._needs, self._shelf, self._offer = needs, shelf, offer
        profiles = [voice.wants for voice in offer.voices]
        self._examples = dict(zip(profiles, offer.voices, strict=True))
        places = {profile: place for place, profile in enumerate(self._examples)}
        self._profile_of = np.array([places[profile] for profile in profiles], dtype=int)
        self._known: dict[tuple, np.ndarray] = {}
        self._device_prices: dict[int, np.ndarray] = {}
        self.shares = [(classes, pieces) for classes in sharings for pieces in self._who_uses_what(classes)]
        for classes, pieces in self.shares:
            for one in zip(classes, pieces, strict=True):
                self.of(*one)
        self.useful = self._useful(hubs) if len(hubs) > 1 else np.arange(len(offer.voices))
        self.free = self._free()

    def of(self, parts: tuple[int, ...], pieces: tuple[Piece, ...]) -> np.ndarray:
        """Return the price of every voice for a class of parts, with pieces it need not buy."""
        key = (self._key(parts), pieces)
        if key not in self._known:
            small = np.array([self._small(voice, parts, pieces) for voice in self._examples.values()])
            self._known[key] = self._devices(self._needs.channels_for(parts)) + small[self._profile_of]
        return self._known[key]

    def _devices(self, channels: int) -> np.ndarray:
        if channels not in self._device_prices:
            voices = self._offer.voices
            prices = [sum(price for _, price in devices_of(self._shelf, voice, channels)) for voice in voices]
            self._device_prices[channels] = np.array(prices, dtype=float)
        return self._device_prices[channels]

    def useful_without(self, ids: frozenset[str]) -> np.ndarray:
        """Return the numbers of the useful voices that do without some devices."""
        if not ids:
            return self.useful
        return np.array([n for n in self.useful if ids.isdisjoint(self._offer.voices[n].ids)], dtype=int)

    def _small(self, voice: Voice, parts: tuple[int, ...], pieces: tuple[Piece, ...]) -> float:
        try:
            return sum(thing.price for thing in things_of_voice(self._needs, self._shelf, voice, parts, pieces))
        except Missing:
            return float("inf")

    def _who_uses_what(self, classes: tuple[tuple[int, ...], ...]) -> Iterator[tuple[tuple[Piece, ...], ...]]:
        """Yield every way to share out the pieces; where it cannot matter who takes one, the first does."""
        pieces = self._shelf.pieces
        if len(classes) == 1 or self._needs.most_at_once == 1 or not pieces:
            yield tuple(pieces for _ in classes)  # one after the other, all can use the same
            return
        everyone = range(len(classes))
        choices: list[Iterable[int]] = [everyone] * len(pieces)
        for kind in {piece.kind for piece in pieces}:
            alike = [number for number, piece in enumerate(pieces) if piece.kind == kind]
            first = [place for place in everyone if self._always_needs(classes[place], kind)]
            takers = [*first, *(place for place in everyone if place not in first)]
            sure = takers if len(alike) >= len(classes) else first
            # Each class takes one, then those that may need two; what goes round for all is of no account.
            for number, taker in zip(alike, [*sure, *takers], strict=False):
                enough = len(alike) >= 2 * len(classes) or number in alike[: len(sure)]
                choices[number] = (taker,) if enough else everyone
        for owners in product(*choices):
            yield tuple(
                tuple(piece for piece, owner in zip(pieces, owners, strict=True) if owner == place)
                for place in range(len(classes))
            )

    def _always_needs(self, parts: tuple[int, ...], kind: str) -> bool:
        """Tell whether whatever voice serves these parts needs one of a kind that is not in its box."""
        voices = [
            voice for voice in self._examples.values() if bool(voice.microphone) != (parts[0] in self._needs.plugged)
        ]

        def needs_one(voice: Voice) -> bool:
            try:
                things = things_of_voice(self._needs, self._shelf, voice, parts, ())
            except Missing:
                return True
            return any(thing.kind == kind and (thing.item or thing.found_in == "owned") for thing in things)

        return bool(voices) and all(map(needs_one, voices))

    def _free(self) -> tuple[str, ...]:
        """Return the ids of the devices among the useful voices that cost nothing, being owned or in a bundle."""
        plenty, given = self._shelf.plenty, self._shelf.given
        devices = (one for number in self.useful for one in self._offer.voices[number].devices)
        return tuple(sorted({one.id for one in devices if (one.owned and not plenty) or one.id in given}))[:MOST_FREE]

    def _key(self, parts: tuple[int, ...]) -> tuple[bool, bool, int]:
        sources = [self._needs.parts[part].source for part in parts]
        voices_only = all(source.group == "voice" for source in sources)
        return any(source.pops for source in sources), voices_only, self._needs.channels_for(parts)

    def _useful(self, hubs: list[int]) -> np.ndarray:
        clean = self._offer.clean_db[hubs].reshape(-1, len(self._offer.voices)).T
        figures = np.hstack([clean, self._offer.lead_db.T])
        prices = np.array(list(self._known.values())).T
        rows, kept = Rows(figures), list[int]()
        for voice in np.lexsort((-np.clip(figures, -1e3, 1e3).sum(axis=1), prices.min(axis=1))):
            rivals = np.array(kept[-MOST_RIVALS:], dtype=int)
            rivals = rivals[(prices[rivals] < prices[voice]).all(axis=1)]
            if (figures[voice] > CANNOT).any() and not rows.is_equalled(int(voice), rivals):
                kept.append(int(voice))
        return np.array(sorted(kept), dtype=int)
