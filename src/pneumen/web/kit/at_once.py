"""How each part of a song goes in, and where more is recorded at once than finds an input."""

from pneumen.core.gear import OWN_FAMILIES
from pneumen.core.kit import Entry, Item, socket_of
from pneumen.web.part.models import Part


def hub_of(part: Part) -> Item | None:
    """Return what a part goes into as it is set up: a recorder that hears by itself, else its interface."""
    own_pair = part.microphone is not None and part.microphone.kind == "recorder"
    return part.microphone if own_pair else part.interface


def entry_of(part: Part) -> Entry:
    """Return how a part goes in as it is set up."""
    hub = hub_of(part)
    return Entry(hub=hub, session=part.session, channels=part.channels, socket=_socket(part, hub, boxed=bool(part.box)))


def own_entry_of(part: Part) -> Entry:
    """Return how a part with a whole chain of its own goes in with that alone, whatever was planned beside it."""
    microphone, interface = None if part.is_plugged else part.own_microphone, part.own_interface
    hub: Item | None = None
    if microphone is not None and OWN_FAMILIES[microphone.family].plug != "xlr":
        hub = microphone.to_core() if microphone.is_recorder else None
    elif interface is not None:
        hub = interface.to_core()
    channels = 2 if part.in_stereo else 1
    return Entry(hub=hub, session=part.session, channels=channels, socket=_socket(part, hub, boxed=False))


def _socket(part: Part, hub: Item | None, *, boxed: bool) -> str | None:
    if hub is None or hub.kind == "recorder":
        return None
    if boxed or not part.is_plugged:
        return "mic"
    socket = socket_of(hub, passive=part.source_facts.is_passive)
    return socket.kind if socket else "mic"
