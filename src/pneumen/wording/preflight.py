"""What to see to before a take, in words (common practice, no source)."""

from typing import Final

from pneumen.wording.figures import figure, size_told
from pneumen.wording.language import _

CHECKS: Final = {
    "meaning": _("Recall what the song is about, and whom it is sung or played to."),
    "warm": _("Warmed up, and water at hand."),
    "tuned": _("Tuned, just now: wood and skin drift as the room warms."),
    "strings": _("Strings clean, or new and played in."),
    "pedals": _("Pedals and benches quiet: press each once and listen."),
    "battery": _("Batteries fresh."),
    "reed": _("The reed wet, and a second one ready."),
    "rattles": _("Squeaks, rings, buttons and rattles found: play the loudest note and listen to what goes along."),
    "quiet": _("Telephone silent, fan and fridge off: write a note to switch the fridge on again."),
    "speakers": _("Loudspeakers off, headphones on."),
    "armed": _("Armed: the meter moves when you speak."),
    "track": _("On its own track: your input alone, not the backing’s."),
    "room": _("Room on the disk or card."),
    "runs": _("Recording really runs: the time counts up. Then two seconds of nothing before the first note."),
}
ON_DISK: Final = _("Room on the disk: {free} free, {hours} hours of one channel in this song’s format.")


def preflight_told(checks: tuple[str, ...], free_bytes: int, bytes_a_second: float) -> tuple[str, ...]:
    """Return the list in words.

    Args:
        free_bytes: of the disk that recordings are kept on.
        bytes_a_second: of one channel in the song's format.
    """
    hours = free_bytes / bytes_a_second / 3600
    on_disk = ON_DISK.format(free=size_told(free_bytes), hours=figure(hours))
    return tuple(on_disk if check == "room" else CHECKS[check] for check in checks)
