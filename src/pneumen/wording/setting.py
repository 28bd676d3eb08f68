"""Setting a control: the dial's procedure, where the next decibels pay, compression, and how loud it was so far."""

from collections.abc import Mapping
from typing import Final

from pneumen.core.gain import BEGINS_AT, SAFETY, DialPlan
from pneumen.core.line import NOTICED_DB
from pneumen.wording.figures import figure
from pneumen.wording.language import _

DIAL: Final = (
    _("Limiter, auto level and low-cut off; 24 bits. The limiter comes back at the end, as a net only."),
    _("Dial to {begins} of 10. Play or sing the loudest passage, at full effort, from where you will stand."),
    _("Lower by half a number at a time, the same passage each time, until the last light stays dark: {holds}."),
    _("Then {least} to {most} more down: between {low} and {high}; the loudest lands at {from_db} to {to_db} dBFS."),
    _("Check the softest passage: it may look low. Leave it; 24 bits keep it."),
)
HOLDS_AT: Final = _("expected at {number}")
HOLDS_NOWHERE: Final = _("not even at 0, as far as is known: move back, or a pad")
KNOB: Final = (
    _("Control all the way down, headphones low. Play or sing the loudest passage, at full effort, as for a take."),
    _("Raise it slowly until the highest peak stands in the window: {window} dBFS, {expected}."),
    _("Play the passage twice more. If it passes the window once, lower by that much."),
    _("Then the softest passage: it may look low. Leave it; 24 bits keep it."),
)
EXPECTED: Final = _("expected at {setting}")
STOPS_SHORT: Final = _("which all the way up it misses by {db} dB, as far as is known: {remedy}")
STOPS_OVER: Final = _("which all the way down it passes by {db} dB, as far as is known: {remedy}")
SHORT_REMEDY: Final = {True: _("play louder, or a pedal before it"), False: _("closer, louder, or a booster")}
OVER_REMEDY: Final = {True: _("turn the instrument down, or a pad"), False: _("farther off, or a pad")}
"""By whether it is plugged in."""
GAINLESS: Final = (
    _("There is no control: distance is the gain. Begin at {distance}."),
    _("The loudest passage: above the window go farther off, below it closer. Half the distance is 6 dB."),
    _("The softest passage may look low. Leave it; 24 bits keep it."),
)
BY_ITSELF: Final = (
    _("While it listens, sing or play the loudest passage, all the time, from where you will stand: not the warm-up."),
    _("Nobody coughs, taps or speaks meanwhile: what is loudest counts."),
    _("Then check: the loudest passage again. Its peak belongs into {window} dBFS; beyond, let it listen once more."),
    _("For a softer section let it listen anew, or leave it: it must not ride while you record."),
)
"""What to do with a device that sets its own gain (common practice, no source)."""
STAGES: Final = {
    "room": _("a quieter room: another hour, the laptop away, the microphone’s back to the noise"),
    "microphone": _("a microphone with less self-noise"),
    "preamp": _("a quieter preamp, or a booster behind a dynamic or passive ribbon microphone"),
    "converter": _("more gain: only the converter’s own noise stays behind"),
    "instrument": _("the instrument itself: fresh battery, shielded, away from screens and dimmers"),
    "box": _("a quieter DI box"),
}
WORTH: Final = _("{worth} dB: {what}")
NEARER: Final = {
    True: _("6 dB: played louder, or the instrument’s level up where that is no tone"),
    False: _("6 dB: louder, or at half the distance; every noise but what comes with the source stays behind"),
}
"""By whether it is plugged in."""
GAIN_IS_DONE: Final = _("More gain brings no cleaner file: {stage} sets the noise and rises with it.")
GAIN_HELPS: Final = _("More gain makes the file cleaner still: the converter’s own noise is heard.")
NOISE_OF: Final = {
    "room": _("the room"),
    "microphone": _("the microphone"),
    "preamp": _("the preamp"),
    "converter": _("the converter"),
    "instrument": _("the instrument"),
    "box": _("the DI box"),
}
DRY: Final = _(
    "The dry school records without: nothing can be wrong later, and the mix has every choice. The commit school "
    "prints a little: faster, and final."
)
BAKED: Final = _(
    "Baked in: whatever stands before the file, hardware or a plug-in on the input, EQ too, is in it for good. On the "
    "monitoring path alone it is not: comfort is no reason to print."
)
NEVER_CURES: Final = _("A compressor never cures clipping: what overloads before it stays overloaded.")
TAKE_LOUDER: Final = _("{db} dB louder than in {before}")
TAKE_SOFTER: Final = _("{db} dB softer than in {before}")
TAKE_ALIKE: Final = _("as loud as in {before}")
ALIKE_DB: Final = 0.5
SPREAD: Final = _(
    "From take to take the loudest moment keeps within ±{band} dB, nineteen times in twenty, as {count} takes tell."
)


def dial_told(plan: DialPlan) -> tuple[str, ...]:
    """Return the steps of a numbered dial, with what is expected at each."""
    holds = HOLDS_NOWHERE if plan.holds_at is None else HOLDS_AT.format(number=figure(plan.holds_at, 1))
    words = {
        "begins": figure(BEGINS_AT),
        "holds": holds,
        "least": figure(SAFETY[0], 1),
        "most": figure(SAFETY[1]),
        "low": figure(plan.ends[0], 1),
        "high": figure(plan.ends[1], 1),
        "from_db": figure(plan.peaks_dbfs[0]),
        "to_db": figure(plan.peaks_dbfs[1]),
    }
    return tuple(step.format(**words) for step in DIAL)


def expected_told(setting: str, misses_db: float, *, plugged: bool) -> str:
    """Say where a control is expected to end; misses_db is how far a stop keeps it under the window, or over."""
    if misses_db < 0:
        return STOPS_SHORT.format(db=figure(-misses_db), remedy=SHORT_REMEDY[plugged])
    if misses_db > 0:
        return STOPS_OVER.format(db=figure(misses_db), remedy=OVER_REMEDY[plugged])
    return EXPECTED.format(setting=setting)


def worth_told(worths: Mapping[str, float], *, plugged: bool) -> tuple[str, ...]:
    """Say what each stage would bring, were it 6 dB quieter; what nobody notices is left out."""
    told = [
        WORTH.format(worth=figure(worth, 1), what=STAGES[stage])
        for stage, worth in worths.items()
        if worth >= NOTICED_DB
    ]
    return (NEARER[plugged], *told)


def gain_told(noise_set_by: str, *, helps: bool) -> str:
    """Say whether more gain still helps."""
    return GAIN_HELPS if helps else GAIN_IS_DONE.format(stage=NOISE_OF[noise_set_by])


def change_of_take(change_db: float, before: str) -> str:
    """Say how a take stands beside the one before it."""
    if abs(change_db) < ALIKE_DB:
        return TAKE_ALIKE.format(before=before)
    return (TAKE_LOUDER if change_db > 0 else TAKE_SOFTER).format(db=figure(abs(change_db)), before=before)
