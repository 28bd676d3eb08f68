"""What a source asks of its room, in sentences."""

from typing import Final

from pneumen.core.errors import given
from pneumen.core.forecast import PLAYER_M, Case
from pneumen.core.verdict import Verdict
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.lengths import far, near

TITLES: Final = {
    "corner": _("Face it into a corner packed with pillows"),
    "horn": _("The bell plays to the wall behind"),
    "drums": _("Blankets on the walls, paper towel on the heads"),
    "piano": _("Walk round it and listen"),
    "ears": _("Your ears are in the room too"),
}


def case_told(case: Case) -> str:
    """Say what a case is about and what to do."""
    return _TOLD[case.kind](case)


def _corner(case: Case) -> str:
    lead = given("lead", case.lead)
    return _(
        "The microphone between: in the {corner} corner the direct sound leads by {packed} dB, bare by {bare}. The "
        "player sits in another room; {away} off in this one the pick lies {pick} dB under the amplifier."
    ).format(
        corner=given("corner", case.corner).name,
        packed=figure(lead.packed_db),
        bare=figure(lead.bare_db),
        away=far(PLAYER_M, 0),
        pick=figure(case.pick_under_db),
    )


def _horn(case: Case) -> str:
    wall = given("wall", case.wall)
    told = (
        _(
            "The {wall} wall, {behind} behind, answers {late} ms later at {level} dB against the direct sound. It "
            "carries the tone. Never into the bell, never on the floor."
        )
        if case.verdict == Verdict.CLEAR
        else _(
            "The {wall} wall, {behind} behind, answers {late} ms later at {level} dB against the direct sound. A step "
            "away from it, or something soft on it, takes the edge off. Never into the bell, never on the floor."
        )
    )
    return told.format(
        wall=wall.wall,
        behind=far(wall.distance_m, 1),
        late=figure(wall.delay_ms, 1),
        level=figure(wall.level_db, sign=True),
    )


def _drums(case: Case) -> str:
    return _("Hang what you have first; a head that rings on takes a strip of paper towel, taped at its edge.")


def _piano(case: Case) -> str:
    return _(
        "At {distance} you hear the action; farther off it is balanced, with room and ventilation. A head where the "
        "microphone would be hears a lot. Two microphones: three to one, and listen in mono."
    ).format(distance=near(case.distance_m))


def _ears(case: Case) -> str:
    return _(
        "About {level} dBA at the player’s ear here: safe for {time} a day without plugs (NIOSH, 1998). Padding the "
        "walls of a small room does not make the source itself softer."
    ).format(level=figure(case.level_dba), time=_time(60 * case.safe_h))


def _time(minutes: float) -> str:
    if minutes >= 120:
        return _("{hours} hours").format(hours=figure(minutes / 60))
    return _("{minutes} minutes").format(minutes=figure(minutes)) if minutes >= 1.5 else _("a minute")


_TOLD: Final = {"corner": _corner, "horn": _horn, "drums": _drums, "piano": _piano, "ears": _ears}
