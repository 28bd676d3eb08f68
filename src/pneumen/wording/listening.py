"""What one hears while recording, in sentences: the leak at the microphone, one's own delay, what ears bear."""

from typing import Final

from pneumen.core.forecast import Cue, CueMix
from pneumen.core.levels import safe_hours
from pneumen.core.verdict import Verdict
from pneumen.wording.figures import figure
from pneumen.wording.language import _

NOTHING_PLAYS: Final = _("nothing plays")
BACKINGS: Final = (_("soft, 70 dB"), _("usual, 80 dB"), _("loud, 90 dB"))
OWN_WAYS: Final = (
    _("direct, at the interface"),
    _("through the computer"),
    _("both ways at once"),
    _("not at all"),
)
LEAK: Final = _("About {leak} dB SPL of it reach the microphone: {file} dBFS in the file, {under} dB under you{more}.")
SEAL: Final = _(": seal the cup against the head, or turn it down")
LATE: Final = _("Your own sound comes {late} ms late: {what}.")
COLOURED: Final = _("it is coloured by your own bones")
DIRECT: Final = _("listen directly instead")
TWICE: Final = _("and a second time at once, so that it combs: switch one of the two off")
SAFE: Final = _("{level} dB at the ear are safe {how_long} (NIOSH, 1998).")
ALL_DAY: Final = _("all day")
HOURS: Final = _("for {hours} hours a day")
LOUDEST: Final = _("At full volume the headphones reach {level} dB SPL: safe for {safe} a day (NIOSH, 1998).")
MINUTES, SECONDS = _("{count} minutes"), _("{count} seconds")
DAY_H: Final = 24.0


def cue_told(cue: Cue, mix: CueMix) -> tuple[tuple[Verdict, str], ...]:
    """Say what a cue mix does, each finding with its verdict."""
    told = []
    if cue.leak_db_spl is not None and cue.leak_dbfs is not None and cue.under_db is not None:
        more = "" if cue.leak_verdict == Verdict.CLEAR else SEAL
        figures = {"leak": figure(cue.leak_db_spl), "file": figure(cue.leak_dbfs), "under": figure(cue.under_db)}
        leak = LEAK.format(**figures, more=more)
        told.append((cue.leak_verdict, leak))
    if cue.late_ms is not None:
        what = TWICE if mix.own == "both" else COLOURED if cue.late_verdict == Verdict.CLEAR else DIRECT
        told.append((cue.late_verdict, LATE.format(late=figure(cue.late_ms), what=what)))
    if cue.safe_h is not None and mix.backing_db_spl is not None:
        hours = HOURS.format(hours=figure(cue.safe_h, 1 if cue.safe_h < 10 else 0))
        how_long = ALL_DAY if cue.safe_h >= DAY_H else hours
        told.append((cue.safe_verdict, SAFE.format(level=figure(mix.backing_db_spl), how_long=how_long)))
    return tuple(told)


def loudest_told(level_db: float) -> str:
    """Say how loud headphones get at full volume, and how long that is safe."""
    seconds = 3600 * safe_hours(level_db)
    safe = MINUTES.format(count=figure(seconds / 60)) if seconds >= 90 else SECONDS.format(count=figure(seconds))
    return LOUDEST.format(level=figure(level_db), safe=safe)
