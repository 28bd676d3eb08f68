"""Listening in words: what to do about a level, what the page is doing, and how a take came in."""

from typing import Final

from pneumen.core.errors import PneumenError
from pneumen.core.live import ARMED, BY_DISTANCE, BY_GAIN, LISTENING, PROCESSING, RECORDING, LiveWord, Origin
from pneumen.core.take import ALIKE, CUTS, RIDES, THINS, UNTOUCHED, Riding
from pneumen.wording.figures import figure, kilohertz
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
FOUND: Final = {
    RIDES: _("an automatic gain"),
    CUTS: _("a gate"),
    THINS: _("noise suppression"),
}
HIDDEN: Final = _(
    "The check of this input found {what}: levels and noise are not those at the input. Turn it off in the system or "
    "on the device, and check again."
)
LINE_TOLD: Final = _("Say one line softly, then loudly, then softly, a second of silence round each")
UNTOUCHED_TOLD: Final = _(
    "The input leaves the sound alone: the loud line came out {louder} dB louder, and the room’s noise moved by "
    "{falls} dB."
)
ALIKE_TOLD: Final = _(
    "The loud line came out only {louder} dB louder: either the input evens out, or the lines were said alike. Again, "
    "the middle one as loud as you can."
)
RIDING: Final = {
    RIDES: _("An automatic gain is at work: after the loud line the room’s noise fell by {falls} dB."),
    CUTS: _("A gate is at work: the pauses have {cut} dB less noise than the gaps inside a line."),
    THINS: _("Noise suppression is at work: what is left in the pauses is no even noise any more."),
}
CHECK_REFUSED: Final = _("The check told nothing: {why}.")
THROUGH: Final = _("Recorded by the browser through {device}, {channel}, at {rate}.")
RAW: Final = _("The browser reports no processing of its own.")
OVER: Final = _("{over} samples touched full scale since {since}.")
SINCE: Final = {RECORDING: _("the take began"), ARMED: _("it was armed"), LISTENING: _("listening began")}
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


def over_told(over: int, phase: str) -> str:
    """Say how often full scale was touched; nothing where it was not."""
    return OVER.format(over=over, since=SINCE[phase]) if over else ""


def altered_told(processing: tuple[str, ...], hidden: tuple[str, ...] = ()) -> str:
    """Say what the browser does to the sound, or what a check found it does; nothing where it is left alone."""
    if processing:
        return ALTERED.format(what=", ".join(DONE_TO_IT[name] for name in processing))
    if hidden:
        return HIDDEN.format(what=", ".join(FOUND[name] for name in hidden))
    return ""


def riding_told(found: Riding) -> str:
    """Say what a check of an input told."""
    if UNTOUCHED in found.found:
        return UNTOUCHED_TOLD.format(louder=figure(found.louder_db), falls=figure(abs(found.falls_db)))
    if found.found == (ALIKE,):
        return ALIKE_TOLD.format(louder=figure(found.louder_db))
    return " ".join(
        RIDING[what].format(falls=figure(found.falls_db), cut=figure(found.cut_db), louder=figure(found.louder_db))
        for what in found.found
        if what in RIDING
    )


def check_refused(error: PneumenError) -> str:
    """Say why a check told nothing."""
    return CHECK_REFUSED.format(why=error)


def origin_told(origin: Origin) -> str:
    """Say how a take came in."""
    if origin.channels == 1:
        channel = MONO
    else:
        channel = (ONE_CHANNEL if origin.channel else ALL_CHANNELS).format(
            channel=origin.channel, channels=origin.channels
        )
    rate = kilohertz(origin.sample_rate_hz)
    told = THROUGH.format(device=origin.device or ANY_DEVICE, channel=channel, rate=rate)
    return f"{told} {RAW}" if origin.device and not origin.alters_levels else told


def origin_troubles(origin: Origin) -> tuple[str, ...]:
    """Say what went wrong while it came in."""
    told = [
        altered_told(origin.processing, origin.hidden),
        LOST.format(lost=origin.lost) if origin.lost else "",
        ENDED_BY.get(origin.ended_by, ""),
    ]
    return tuple(one for one in told if one)
