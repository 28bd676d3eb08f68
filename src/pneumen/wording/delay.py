"""Delay in sentences: the journey, what is to be expected of a buffer, who bears what, what to enter after a loop."""

from typing import Final

from pneumen.core.delay import (
    COLOURS_MS,
    LIKELY,
    UNKNOWN,
    UNLIKELY,
    Chance,
    Comb,
    DelayPlan,
    Loop,
    bearable_for,
)
from pneumen.wording.figures import figure
from pneumen.wording.language import _

SEGMENTS: Final = {
    "converter-in": _("converter in"),
    "safety-in": _("driver"),
    "input-buffer": _("input buffer"),
    "plug-ins": _("plug-ins"),
    "output-buffer": _("output buffer"),
    "safety-out": _("driver"),
    "converter-out": _("converter out"),
    "driver-and-converters": _("driver and converters"),
    "air": _("air from the monitor"),
}
LOADS: Final = {
    "plain": _("a track or two, no effects"),
    "tracks": _("many tracks with effects"),
    "models": _("amplifier models, instruments"),
}
WORDS: Final = {LIKELY: _("likely"), UNLIKELY: _("unlikely"), UNKNOWN: _("unknown")}
THROUGH: Final = {
    "program": _("through the recording program"),
    "bare": _("with compensation off: the whole way round"),
}
DIRECT: Final = _("You hear yourself directly: {ms} ms through the computer do not matter while you record.")
NOT_HEARD: Final = _("You do not hear yourself in the headphones: the way back, {ms} ms, does not matter.")
COMPUTER: Final = {
    "clear": _("You hear yourself {ms} ms late through the computer: hardly anybody notices."),
    "watch": _("You hear yourself {ms} ms late through the computer: many notice; listen directly, or take less."),
    "mendable": _("You hear yourself {ms} ms late through the computer: it disturbs; listen directly."),
}
TWICE: Final = _("You hear yourself twice, {ms} ms apart: it combs. Switch one of the two ways off.")
RECORDER: Final = _("A recorder plays what it hears at once: there is no buffer to choose.")
LOST: Final = {
    LIKELY: _("At {buffer} samples dropouts are likely."),
    UNKNOWN: _("At {buffer} samples dropouts are possible: record ten minutes and look."),
}
GUESS: Final = _("A guess from the kind of computer; what you saw has the last word.")
SEEN: Final = _("From what you saw.")
BOUND: Final = _("at most {most} a minute at 95 %")
BORNE: Final = {
    "good": _("For this kind of source {ms} ms are borne well."),
    "fair": _("For this kind of source {ms} ms are borne fairly."),
    "poor": _("For this kind of source {ms} ms are too much for most."),
}
BORNE_SOURCE: Final = _("after Lester and Boley (AES convention, 2007), from memory: orders of size")
COMBED: Final = _(
    "With your own bones it combs: first notch at {notch} Hz, {depth} dB deep if they bring half as much."
)
COLOURED: Final = _("From {low} to {high} ms on such a comb is heard as colour.")
OFFSET: Final = {
    "program": _(
        "{samples} samples ({ms} ms) {word}: so far the compensation is off. Enter it as recording offset, so "
        "that takes are moved {way}; programs differ in the sign, so measure again: it must come out near nothing."
    ),
    "bare": _("{samples} samples ({ms} ms) {word}: the whole way round at this buffer and rate."),
}
COMPENSATED: Final = _("Within a sample of nothing: the program's compensation is right, there is nothing to enter.")
RIGHT_SAMPLES: Final = 1.0
CLIPS: Final = _("{file} clips: turn the output down and measure again.")
LATE, EARLY = _("late"), _("early")
EARLIER, LATER = _("earlier"), _("later")
INVERTED: Final = _(
    "Polarity is inverted: a lead or a box turns it round. Alone it is not heard; together with another it thins."
)
DRIFTS: Final = _("The two clocks differ by {ppm} ppm: {ms} ms in a four-minute song. Record and play with one device.")
ONE_CLOCK: Final = _("One clock: what is late stays as late; that is an offset, not a slow computer.")
SURE: Final = _("Likeness {confidence}.")
SIMULATED: Final = _("Simulated: it says nothing of your own gear.")
NOTICED_PPM: Final = 2.0
SONG_MS: Final = 240_000.0


def delay_sentence(plan: DelayPlan | None, own: str) -> str:
    """Say how late one hears oneself, and what the buffer risks."""
    if plan is None:
        return RECORDER
    ms = figure(plan.round_trip_ms)
    lost = LOST.get(plan.chance.word, "").format(buffer=plan.buffer)
    if own == "both":
        told = TWICE
    elif own == "computer":
        told = COMPUTER[plan.verdict]
    else:
        told = DIRECT if own == "direct" else NOT_HEARD
    return f"{told.format(ms=ms)} {lost}".strip()


def chance_told(chance: Chance) -> str:
    """Say what is to be expected at a buffer."""
    bound = f", {BOUND.format(most=figure(chance.most_a_minute, 1))}" if chance.most_a_minute is not None else ""
    return f"{WORDS[chance.word]}{bound}"


def borne_told(delay_ms: float, group: str) -> str:
    """Say how such a delay is borne, and after whom."""
    return f"{BORNE[bearable_for(delay_ms, group)].format(ms=figure(delay_ms))} ({BORNE_SOURCE})"


def comb_told(comb: Comb) -> str:
    """Say what a delayed copy does to one's own voice."""
    depth = _("all") if comb.depth_db is None else figure(comb.depth_db)
    low, high = COLOURS_MS
    return " ".join(
        (COMBED.format(notch=figure(comb.notch_hz), depth=depth), COLOURED.format(low=figure(low), high=figure(high)))
    )


def loop_told(loop: Loop, through: str, *, simulated: bool) -> tuple[str, ...]:
    """Say what a measured way round means, and what to enter."""
    late = loop.offset_samples >= 0
    words = {
        "samples": figure(abs(loop.offset_samples), 1),
        "ms": figure(abs(loop.offset_ms), 2),
        "word": LATE if late else EARLY,
        "way": EARLIER if late else LATER,
    }
    right = through == "program" and abs(loop.offset_samples) < RIGHT_SAMPLES
    told = [
        COMPENSATED if right else OFFSET[through].format(**words),
        SURE.format(confidence=figure(loop.confidence, 2)),
    ]
    if loop.polarity == "inverted":
        told.append(INVERTED)
    if loop.drift_ppm is not None:
        drifts = abs(loop.drift_ppm) >= NOTICED_PPM
        ms = figure(abs(loop.drift_ppm) * 1e-6 * SONG_MS, 1)
        told.append(DRIFTS.format(ppm=figure(loop.drift_ppm, 1, sign=True), ms=ms) if drifts else ONE_CLOCK)
    return (*told, SIMULATED) if simulated else tuple(told)
