"""The lyric sheet in words: how it stands, why a take is proposed, where takes lie."""

from typing import Final

from pneumen.core.comp import LineChoice, PunchLine, TakeOffset
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.log import MARKED

NO_LINES: Final = _("No lines yet: take the words from Part, paste them, or go by the phrases that are heard.")
NO_TAKES: Final = _("The lines stand. Record at least one take, and it is laid to them by itself.")
NOT_LAID: Final = _("The takes are not laid to the lines yet.")
ALL_CHOSEN: Final = _("Every line has its take.")
NO_TRACK: Final = _("The track is not made yet.")
TO_CHOOSE: Final = _("{left} of {count} lines are still open; for {close} of them two takes are about equal.")
TO_ACCEPT: Final = _("{left} of {count} lines are still open; what is proposed for them is clear.")
LACKING: Final = _("{count} have no take that does them well.")
ONE_LACKING: Final = _("One has no take that does it well.")
WHY: Final = {
    "faults": _("the others clip or drop out here"),
    "others": _("the others have more findings here"),
    "seams": _("with another take a seam would be heard"),
    "changes": _("it saves a change of take"),
    "only": _("no other take holds this line"),
    "equal": _("another is as good: hear both"),
    "none": _("no take holds this line"),
}
YOURS: Final = _("your choice")
MARKED_BETTER: Final = _("its {mark} is marked better")
PUNCH: Final = {
    "none": _("no take holds it yet"),
    "faults": _("every take of it clips or drops out"),
    "weak": _("no take of it is free of a weak mark"),
}
TAKES_OF_IT: Final = {0: _("no take yet"), 1: _("one take so far")}
MANY_TAKES_OF_IT: Final = _("{count} takes so far")
REST: Final = _("rest, or practise it, and come back")
PLACED: Final = {
    "ear": _("set by ear"),
    "leak": _("from the backing’s leak"),
    "stamp": _("from the file’s time stamp"),
    "others": _("beside the other takes"),
    "loopback": _("begun with the song, less the recording offset that was measured"),
    "start": _("taken to begin with the song"),
}
CLOCK: Final = _("; its clock runs {ppm} ppm {how}, {source}")
CLEANUPS: Final = {
    "room": _("Keep the room’s tone between phrases"),
    "silence": _("Silence between phrases, with fades"),
}
ANOTHER_TEMPO: Final = _(
    "Take {number} runs {off} % {how} than the longest one: phrases of it fit alone, but nothing is stretched."
)
TONE_BESIDE: Final = _("tone {off} dB from line {line}")
PHRASE: Final = _("Phrase {number}")
BARS: Final = _("{bars} bars")


def sentence_told(choices: tuple[LineChoice, ...], chosen: int, lacking: int, *, made: bool) -> str:
    """Say how the sheet stands."""
    count = len(choices)
    left = count - chosen
    close = sum(one.close for one in choices)
    told = (
        [ALL_CHOSEN] if not left else [(TO_CHOOSE if close else TO_ACCEPT).format(left=left, count=count, close=close)]
    )
    if not left and not made:
        told.append(NO_TRACK)
    if lacking:
        told.append(ONE_LACKING if lacking == 1 else LACKING.format(count=lacking))
    return " ".join(told)


def why_told(choice: LineChoice, order: tuple[str, ...], *, chosen: bool = False) -> str:
    """Say why a take is proposed rather than the one that comes next; chosen: its person decided.

    Args:
        order: what is judged, in the order of the school.
    """
    if chosen:
        return str(YOURS)
    places = {"first-mark": 0, "second-mark": 1, "third-mark": 2}
    if choice.why in places:
        return MARKED_BETTER.format(mark=MARKED[order[places[choice.why]]].lower())
    return str(WHY[choice.why])


def punch_told(one: PunchLine) -> str:
    """Say why a line is to be sung again, and how often it was."""
    told = [PUNCH[one.why]]
    if one.why != "none":
        told.append(TAKES_OF_IT.get(one.takes) or MANY_TAKES_OF_IT.format(count=one.takes))
    if one.rest:
        told.append(REST)
    return "; ".join(told)


def offset_told(offset: TakeOffset) -> str:
    """Say where a take lies in the song, how surely, and what tells it."""
    told = f"{figure(offset.offset_s, 3, sign=True)} s ±{offset.band_ms:.0f} ms, {PLACED[offset.source]}"
    if offset.drift_ppm:
        how = _("fast") if offset.drift_ppm > 0 else _("slow")
        told += CLOCK.format(ppm=figure(abs(offset.drift_ppm), 0), how=how, source=PLACED[offset.clock])
    return told


def tempo_told(number: int, tempo_off: float) -> str:
    how = _("slower") if tempo_off > 0 else _("faster")
    return ANOTHER_TEMPO.format(number=number, off=f"{100 * abs(tempo_off):.0f}", how=how)


def line_label(words: str, bars: float | None, number: int) -> str:
    """Return what stands on the sheet for a line: its words, its bars, or its number."""
    if words:
        return words
    return PHRASE.format(number=number) if bars is None else BARS.format(bars=f"{bars:g}")
