"""Layers in words: what each is for, where it begins in the stereo picture, how tight it is."""

from collections.abc import Sequence
from typing import Final

from pneumen.core.performance import LayerFit
from pneumen.wording.figures import figure
from pneumen.wording.language import _

PURPOSES: Final = {
    "lead": (_("Lead"), _("What the song is carried by; everything else is laid to it.")),
    "double-left": (
        _("Double, left"),
        _("The same line again, learnt cold, for width where the song opens: on purpose, not by habit."),
    ),
    "double-right": (_("Double, right"), _("A third time, never a copy of the left one: a copy has no width.")),
    "octave": (_("Octave"), _("The line an octave up or down, softly under the lead, for weight.")),
    "harmony-left": (_("Harmony, left"), _("A second voice where the words ask for it; softer than the lead.")),
    "harmony-right": (_("Harmony, right"), _("A third voice, or the second once more.")),
}
MIDDLE: Final = _("in the middle")
HARD: Final = {True: _("hard right"), False: _("hard left")}
HALF: Final = {True: _("half right"), False: _("half left")}
NONE_PLANNED: Final = _("No layers are planned: one good lead needs none.")
ALL_THERE: Final = _("All {count} layers are recorded.")
MISSING: Final = _("{there} of {count} layers are recorded; missing: {what}.")
IN: Final = _("{what} in {section}")
HEARD: Final = _(
    "{label}, take {number}, plays in the headphones while others are recorded: its leak is looked for in them, and "
    "tells where they lie in the song."
)
BACKING_HEARD: Final = _(
    "The song’s backing plays in the headphones while others are recorded; a layer that is there already may play "
    "there instead."
)
COPY: Final = _(
    "The same recording as take {number}, as its wave tells: it adds level and no width. Sing or play it once more."
)
TIGHT: Final = _("{spread} ms beside take {number}, over {count} sounds: tight enough.")
LOOSE: Final = _("{spread} ms beside take {number}, over {count} sounds: loose, consonants will smear.")
PHRASES: Final = _("Phrases that lie off: {phrases}.")
PHRASE: Final = _("at {at} s {ms} ms")
MOST_PHRASES: Final = 6


def place_told(per_cent: int) -> str:
    """Say where a layer begins in the stereo picture."""
    if not per_cent:
        return MIDDLE
    return (HARD if abs(per_cent) == 100 else HALF)[per_cent > 0]


def missing_told(count: int, missing: Sequence[tuple[str, str]]) -> str:
    """Say what is recorded and what is missing, of (label, section) each."""
    if not count:
        return NONE_PLANNED
    if not missing:
        return ALL_THERE.format(count=count)
    what = ", ".join(IN.format(what=label, section=section) if section else label for label, section in missing)
    return MISSING.format(there=count - len(missing), count=count, what=what)


def heard_told(heard: tuple[str, int] | None) -> str:
    """Say what plays in the headphones while others are recorded: a layer by its label and take, or the backing."""
    return BACKING_HEARD if heard is None else HEARD.format(label=heard[0], number=heard[1])


def copy_told(number: int) -> str:
    return COPY.format(number=number)


def fit_told(fit: LayerFit, number: int) -> str:
    """Say how tight a layer is to the take it belongs to."""
    told = (LOOSE if fit.loose else TIGHT).format(
        spread=figure(fit.tightness.spread_ms), number=number, count=fit.tightness.count
    )
    phrases = ", ".join(
        PHRASE.format(at=figure(one.start_s, 1), ms=figure(one.offset_ms, sign=True)) for one in fit.off[:MOST_PHRASES]
    )
    return f"{told} {PHRASES.format(phrases=phrases)}" if phrases else told
