"""The one-minute check in words: what to do at each step, and what it told."""

from collections.abc import Collection
from typing import Final

from pneumen.core.live import BACKING, CLAP, SILENCE, STEPS, WORDS, Minute
from pneumen.core.verdict import Verdict
from pneumen.wording.figures import figure
from pneumen.wording.language import _

SHORT: Final = dict(
    zip(
        STEPS,
        (
            _("Warm up"),
            _("Loudest"),
            _("Set gain, again"),
            _("Silence"),
            _("Softly"),
            _("P, B, S"),
            _("Backing"),
            _("Clap"),
        ),
        strict=True,
    )
)
"""What is read from two metres."""
PROMPTS: Final = dict(
    zip(
        STEPS,
        (
            _("Gain low, two seconds of quiet. Then a line to warm up, at ease."),
            _("The loudest line of the song, at full effort."),
            _("Set the gain to the window, wait a moment, and the loudest line again."),
            _("Nothing at all for five seconds: that is the room."),
            _("The softest line."),
            _("Words with P, B and S, as near as you will sing: never into a ribbon."),
            _("Start the backing at playing level, mouth shut, hands still, ten seconds."),
            _("A clap or a knock beyond arm’s length, by a helper where your hands are full. Then quiet."),
        ),
        strict=True,
    )
)
DONE: Final = _("Done")
NOT_DONE: Final = _("–")
CLIPS: Final = _("it touches full scale: lower the gain and do it again")
NOT_TOLD: Final = _("not told: {step} is missing, or cannot be read")
POPS: Final = _("screen farther out, or the microphone beside the mouth")
NO_POPS: Final = _("none heard in these words")
HARSH: Final = _("turn the microphone a hand’s width aside, or lower")
NOT_HARSH: Final = _("none heard in these words")
LEAK_BAND_DB: Final = 3.0
RING_BAND: Final = _("±10 %")
"""A single clap tells no better (estimates)."""
AT_MOST: Final = _("at most {db} dBFS")
RATIOS: Final = _(
    "These are ratios and levels of the file. As a take they also tell how loud you are and how loud the room is, as "
    "far as the sheets of this chain and its gain allow."
)
TAKEN: Final = {
    "take": _("Its loudest line and silence are a take now"),
    "clap": _("The room’s reverberation time is measured now"),
    "leak": _("The headphones’ leak is measured now"),
}

USE: Final = {
    "take": _("Make it a take"),
    "clap": _("Take its clap for the room"),
    "leak": _("Take its leak for the headphones"),
}


def prompt_told(step: str | None) -> str:
    """Say what to do now."""
    return DONE if step is None else PROMPTS[step]


def minute_rows(found: Minute, steps: Collection[str]) -> tuple[tuple[str, str, str, Verdict], ...]:
    """Return what the steps told, line by line: of what, how much, with what band or advice, and how that stands."""
    clear, noise_db, range_db = Verdict.CLEAR, found.noise_band_db, found.range_band_db
    peak = (CLIPS, Verdict.BAKED_IN) if found.clips else ("", clear)
    ring = NOT_DONE if found.rt60_s is None else f"{figure(found.rt60_s, 2)} s"
    rows = (
        (STEPS[1], _("Loudest peak"), _dbfs(found.peak_dbfs), *peak),
        (SILENCE, _("Noise of the room (A)"), _dbfs(found.noise_dbfs), _within(noise_db), clear),
        (SILENCE, _("Clean range"), _db(found.clean_range_db), _within(noise_db), clear),
        (STEPS[4], _("From soft to loud"), _db(found.range_db), _within(range_db), clear),
        (WORDS, _("Pops"), _count(found.pops), *_judged(found.pops, POPS, NO_POPS)),
        (WORDS, _("Harsh S"), _count(found.harsh_s), *_judged(found.harsh_s, HARSH, NOT_HARSH)),
        (BACKING, _("Leak of the headphones (A)"), _leak(found), _within(LEAK_BAND_DB), clear),
        (CLAP, _("Reverberation time"), ring, RING_BAND, clear),
    )
    return tuple(_row(*row) for row in rows if row[0] in steps)


def _row(step: str, name: str, value: str, note: str, verdict: Verdict) -> tuple[str, str, str, Verdict]:
    if value == NOT_DONE:
        return name, value, NOT_TOLD.format(step=SHORT[step].lower()), Verdict.OPEN
    return name, value, note, verdict


def _judged(count: int | None, some: str, none: str) -> tuple[str, Verdict]:
    return (some, Verdict.WATCH) if count else (none, Verdict.CLEAR)


def _count(count: int | None) -> str:
    return NOT_DONE if count is None else str(count)


def _leak(found: Minute) -> str:
    if found.leak_dbfs is None:
        return NOT_DONE
    return AT_MOST.format(db=figure(found.leak_dbfs)) if found.leak_is_bound else _dbfs(found.leak_dbfs)


def _within(band_db: float) -> str:
    return f"±{figure(band_db, 1)} dB"


def _dbfs(value: float | None) -> str:
    return NOT_DONE if value is None else f"{figure(value)} dBFS"


def _db(value: float | None) -> str:
    return NOT_DONE if value is None else f"{figure(value)} dB"
