"""What is recorded at the same time: whether all of it finds an input of its kind in what it is plugged into."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from pneumen.core.kit.item import Item

SOCKETS: Final = ("instrument", "line", "mic")
ANY: Final = "any"
"""A crowd of channels, whatever their plugs."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Entry:
    """How a part goes in: its hub (None behind a USB plug), session, channels, and the kind of input each takes.

    socket is mic, instrument or line; None for a hub's own microphones.
    """

    hub: Item | None
    session: int
    channels: int = 1
    socket: str | None = "mic"


@dataclass(frozen=True, slots=True, kw_only=True)
class Crowd:
    """More recorded at once than goes in: of which kind of input, how many are wanted, and how many there are."""

    kind: str = ANY
    wanted: int
    there: int


def crowds_of(entries: Sequence[Entry]) -> dict[int, Crowd]:
    """Return where most is asked of too few inputs, by session; a session in which all finds an input is not there.

    What is recorded in one session goes into one hub; a microphone with a USB plug takes itself alone, a recorder
    with its own pair also one part in stereo.
    """
    sessions = dict.fromkeys(entry.session for entry in entries)
    found = {session: _crowd([one for one in entries if one.session == session]) for session in sessions}
    return {session: crowd for session, crowd in found.items() if crowd is not None}


def _crowd(entries: Sequence[Entry]) -> Crowd | None:
    hub, own = entries[0].hub, entries[0].channels
    there, wanted = own, sum(entry.channels for entry in entries)
    if hub is not None:
        there = max(hub.inputs, own if hub.kind == "recorder" else 1)
    if wanted > there:
        return Crowd(wanted=wanted, there=there)
    return None if hub is None else _crowd_of_a_kind(hub, entries)


def _crowd_of_a_kind(hub: Item, entries: Sequence[Entry]) -> Crowd | None:
    wanted = {kind: sum(one.channels for one in entries if one.socket == kind) for kind in SOCKETS}
    crowds = [Crowd(kind=kind, wanted=count, there=hub.inputs_of(kind)) for kind, count in wanted.items()]
    worst = max(crowds, key=lambda crowd: crowd.wanted - crowd.there)
    return worst if worst.wanted > worst.there else None
