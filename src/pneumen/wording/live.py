"""Listening in words: what to do about a level, what the page is doing, and how a take came in."""

from typing import Final

from pneumen.core.live import ARMED, BY_DISTANCE, BY_GAIN, LISTENING, PROCESSING, RECORDING, LiveWord, Origin
from pneumen.wording.figures import figure
from pneumen.wording.language import _

WORDS: Final = {
    "nothing": _("Nothing arrives"),
    "waiting": _("Play"),
    "good": _("Good"),
}
RAISE: Final = {BY_GAIN: _("Turn up"), BY_DISTANCE: _("Closer")}
LOWER: Final = {BY_GAIN: _("Turn down"), BY_DISTANCE: _("Farther")}
CLIPS: Final = _("Clips")
"""The one word that is read from two metres, by what the level is set with."""
TOLD: Final = {
    "nothing": _("Nothing arrives: another input, a cable, or 48 V?"),
    "waiting": _("Only the room so far. Play or sing the loudest passage."),
    "good": _("The loudest peak is in the window."),
    "raise": _("{db} dB below the window, if that was the loudest."),
    "lower": _("{db} dB above the window."),
    "clips": _("It touched full scale: that cannot be mended later."),
}
PHASES: Final = {
    LISTENING: _("Listening"),
    ARMED: _("Armed: begins by itself with the first sound"),
    RECORDING: _("Recording"),
}
KEYS: Final = {
    LISTENING: _("Arm a take"),
    ARMED: _("Begin now"),
    RECORDING: _("End the take"),
}
"""What the one key does next."""
DONE_TO_IT: Final = dict(
    zip(
        PROCESSING,
        (_("echo cancellation"), _("noise suppression"), _("automatic gain"), _("voice isolation")),
        strict=True,
    )
)
ALTERED: Final = _(
    "This browser keeps its {what} on: levels and noise are not those at the input. Try another browser, or record in "
    "your software and send the file."
)
THROUGH: Final = _("Recorded by the browser through {device}, {channel}, at {rate} kHz.")
ANY_DEVICE: Final = _("the computer’s input")
ONE_CHANNEL: Final = _("channel {channel} of {channels}")
ALL_CHANNELS: Final = _("all {channels} channels")
MONO: Final = _("one channel")
LOST: Final = _(
    "{lost} samples were lost on the way: the computer was too busy, or the input fell out. Record it again."
)
ENDED_BY: Final = {
    "gone": _("The input went away while it was recorded: what had come until then was kept."),
    "full": _("The disk was full: what had come until then was kept."),
    "torn": _("The program ended while it was recorded: what had come until then was kept."),
}
PROBLEMS: Final = {
    "insecure": _("Browsers let a page listen only on this computer itself, or over https: open it there."),
    "unsupported": _("This browser cannot listen: take a newer one, or send a recording on Takes."),
    "denied": _("The browser was not allowed to listen: allow the microphone for this page, beside its address."),
    "none": _("There is no input: plug in the interface or the microphone, and press again."),
    "busy": _("The input is used by another program: close that one, and press again."),
    "unplugged": _("The input went away. What was recorded until then was kept."),
    "server": _("Pneumen does not answer: is it still running? What was recorded until then was kept."),
}
"""Why a page cannot listen, by what the browser says."""


def word_told(found: LiveWord, by: str) -> str:
    """Return the one word; by is what the level is set with."""
    words = WORDS | {"raise": RAISE[by], "lower": LOWER[by], "clips": CLIPS}
    return words[found.word]


def live_told(found: LiveWord) -> str:
    """Say how the level stands."""
    return TOLD[found.word].format(db=figure(found.by_db))


def altered_told(processing: tuple[str, ...]) -> str:
    """Say what the browser does to the sound; nothing where it leaves it alone."""
    if not processing:
        return ""
    return ALTERED.format(what=", ".join(DONE_TO_IT[name] for name in processing))


def origin_told(origin: Origin) -> str:
    """Say how a take came in."""
    if origin.channels == 1:
        channel = MONO
    else:
        channel = (ONE_CHANNEL if origin.channel else ALL_CHANNELS).format(
            channel=origin.channel, channels=origin.channels
        )
    rate = f"{origin.sample_rate_hz / 1000:g}"
    return THROUGH.format(device=origin.device or ANY_DEVICE, channel=channel, rate=rate)


def origin_troubles(origin: Origin) -> tuple[str, ...]:
    """Say what went wrong while it came in."""
    told = [
        altered_told(origin.processing),
        LOST.format(lost=origin.lost) if origin.lost else "",
        ENDED_BY.get(origin.ended_by, ""),
    ]
    return tuple(one for one in told if one)
