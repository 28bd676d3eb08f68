"""The log in words: what a take is, what to do next, what differs between two takes."""

from collections import Counter
from collections.abc import Sequence
from typing import Final

from pneumen.core.take import Advice, Change
from pneumen.core.verdict import Verdict
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.lengths import near

KINDS: Final = {"pass": _("Full pass"), "punch": _("Punch-in"), "test": _("Level test")}
MARKED: Final = {"rhythm": _("Rhythm"), "feeling": _("Feeling"), "pitch": _("Pitch")}
MARKS: Final = {"good": _("good"), "weak": _("weak"), "": _("not marked")}
JUDGINGS: Final = {
    "rhythm": _("Rhythm, then feeling, then pitch"),
    "feeling": _("Feeling first; the rest is punched in; pitch last"),
}
RESTS: Final = {"ten": _("Rest after ten takes"), "as-many": _("As many as it takes")}
ADVICE: Final = {
    "hurt": _(
        "The last session was ended for pain or hoarseness. Rest the voice until it is gone, water, no whispering; "
        "what lasts longer than three weeks belongs before a doctor."
    ),
    "rest": _("{count} takes in this session: rest ten minutes, drink, then listen before the next one."),
    "more-passes": _("{count} more full {passes} before anything is punched in: three at least."),
    "punch-in": _("{where} has no take without a fault or a weak mark yet, in {count}: punch it in."),
    "punch-weak": _("No take is without a fault or a weak mark: punch in the phrases that are weak."),
    "section-rest": _("{where}: {count} takes. More will bring little today: rest, or practise it and come back."),
    "listen": _("Three full passes are there. Listen through and mark them: one mark each is enough."),
}
GRAVITY: Final = {"hurt": Verdict.STOP, "rest": Verdict.WATCH, "section-rest": Verdict.WATCH}
NAMES: Final = {
    "gear": _("gear"),
    "distance_m": _("distance"),
    "above_m": _("above the mouth"),
    "aside_deg": _("beside the mouth"),
    "turned_deg": _("turned"),
    "pop_screen": _("pop screen"),
    "low_cut_hz": _("low-cut"),
    "gain_db": _("gain"),
    "buffer": _("buffer"),
    "section": _("played"),
}
ON: Final = {True: _("on"), False: _("off")}
ALL_OF_IT: Final = _("all of it")
SAME: Final = _("Set up as take {before} was.")
CHANGED: Final = _("Since take {before}: {changes}.")
BESIDE: Final = _("{name} {before} → {after}")
TAKEN_IN: Final = _("{count} taken in: {parts}.")
NONE_IN: Final = _("None of these files was taken in.")
REFUSED: Final = _("Not {name}: {problem}")
LEFT_ASIDE: Final = _("{count} left aside, which {are} no recording by name.")
MOST_REFUSED: Final = 5
GUESSED: Final = _("as it seems")


def advice_told(advice: Advice) -> str:
    """Say what to do next."""
    kind = "punch-weak" if advice.kind == "punch-in" and not advice.section else advice.kind
    passes = _("pass") if advice.count == 1 else _("passes")
    return ADVICE[kind].format(count=advice.count, where=advice.section, passes=passes)


def advice_verdict(advice: Advice) -> Verdict:
    return GRAVITY.get(advice.kind, Verdict.OPEN)


def changes_told(before: int, changes: tuple[Change, ...]) -> str:
    """Say what differs from an earlier take."""
    if not changes:
        return SAME.format(before=before)
    told = [
        BESIDE.format(name=NAMES[one.what], before=_value(one.what, one.before), after=_value(one.what, one.after))
        for one in changes
    ]
    return CHANGED.format(before=before, changes="; ".join(told))


def many_told(found: Sequence[tuple[str, str | None, str]]) -> str:
    """Say what became of many files.

    Args:
        found: name, the part it went to (None where it was not taken in) and what was wrong with it, of each.
    """
    parts = Counter(part for _, part, _ in found if part)
    aside = sum(part is None and not problem for _, part, problem in found)
    told = [
        TAKEN_IN.format(count=parts.total(), parts=", ".join(f"{part} {count}" for part, count in parts.items()))
        if parts
        else NONE_IN
    ]
    told += [REFUSED.format(name=name, problem=problem) for name, _, problem in found if problem][:MOST_REFUSED]
    if aside:
        told.append(LEFT_ASIDE.format(count=aside, are=_("is") if aside == 1 else _("are")))
    return " ".join(told)


def _value(what: str, value: float | str | bool | None) -> str:
    if isinstance(value, bool):
        return ON[value]
    if isinstance(value, str):
        return value or ALL_OF_IT
    if value is None or (what == "low_cut_hz" and not value):
        return ON[False]
    if what.endswith("_m"):
        return near(value)
    if what == "gain_db":
        return f"{figure(value, 1)} dB"
    if what == "low_cut_hz":
        return f"{figure(value)} Hz"
    return f"{figure(value)} samples" if what == "buffer" else f"{figure(value)}°"
