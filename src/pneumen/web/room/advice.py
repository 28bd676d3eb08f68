"""What to do next in a room: stand elsewhere, hang what is there, turn the microphone; each with what it brings."""

from dataclasses import dataclass

from pneumen.core.forecast import Outcome, booths_for, outcome
from pneumen.core.room import best_aim
from pneumen.web.part.models import Part
from pneumen.web.room.picture import compass
from pneumen.web.room.services import best_hanging
from pneumen.web.settle import outcome_of, settle, stand_in
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.lengths import far
from pneumen.wording.room import makeshift_told

LEAST_DB = 0.5
LEAST_HANGING_DB = 1.0
LEAST_QUIETER_DB = 1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Advice:
    """One thing to do: what, what it brings, and the values one press applies (an action of the room's)."""

    title: str
    effect: str
    why: str
    action: str
    values: dict[str, str]
    gain_db: float


def advices_of(part: Part) -> tuple[Advice, ...]:
    """Return what to do next, the most effective first: the planned spot, hanging what is there, turning."""
    now = outcome_of(part)
    found = [*_spot_advice(part, now), *_hanging_advice(part, now), *_booth_advices(now), *_aim_advice(part, now)]
    return tuple(sorted(found, key=lambda advice: -advice.gain_db))


def _over_the_room(now: Outcome, after: Outcome) -> float:
    """Return what a change brings over the room's sound, the microphone where it will stand then."""
    return after.in_air.lead_db - now.in_air.lead_db


def _spot_advice(part: Part, now: Outcome) -> list[Advice]:
    """Back to the planned spot, where one stands elsewhere by choice."""
    if part.stand_x_m is None or now.air is None:
        return []
    there = stand_in(part, now.setup.drawn_space, now.setup.placement.height_m, planned=True)
    after = outcome_of(part, x_m=there.x_m, y_m=there.y_m, facing_deg=there.facing_deg)
    gain_db = _over_the_room(now, after)
    if gain_db < LEAST_DB:
        return []
    place = _("{x_m} from west, {y_m} from south").format(x_m=far(there.x_m, 1), y_m=far(there.y_m, 1))
    return [
        Advice(
            title=_("Stand {place}, facing {facing_deg}").format(place=place, facing_deg=compass(there.facing_deg)),
            effect=_("{gain_db} dB over the room").format(gain_db=figure(gain_db, 1, sign=True)),
            why=_(
                "the spot heard least of all that are free, away from walls and from the extremes of the lowest modes"
            ),
            action="planned",
            values={"what": "stand", "next": "stand"},
            gain_db=gain_db,
        )
    ]


def _hanging_advice(part: Part, now: Outcome) -> list[Advice]:
    found = best_hanging(part, now.setup)
    if found is None or now.air is None:
        return []
    after = outcome(settle(part, space=found.space))
    gain_db = _over_the_room(now, after)
    if gain_db < LEAST_HANGING_DB:
        return []
    order = "; ".join(
        f"{one.piece.label}: {one.slot.label} ({figure(one.brings_db, 1, sign=True)} dB)"
        for one in found.arrangement.hung
    )
    beyond = found.arrangement.proven_within_db
    proven = _("; the best may lie {beyond} dB beyond").format(beyond=figure(beyond, 1)) if beyond else ""
    return [
        Advice(
            title=_("Hang what you have where it does most"),
            effect=_("{gain_db} dB over the room").format(gain_db=figure(gain_db, 1, sign=True)),
            why=f"{order}{proven}",
            action="hang-best",
            values={},
            gain_db=gain_db,
        )
    ]


def _booth_advices(now: Outcome) -> list[Advice]:
    """What can be built for a session and cleared away, without a nail in any wall."""
    found = []
    for booth in booths_for(now):
        title, why = makeshift_told(booth.slug, booth.kind)
        effect = _("{gain_db} dB over the room").format(gain_db=figure(booth.gain_db, 1, sign=True))
        found.append(Advice(title=title, effect=effect, why=why, action="", values={}, gain_db=booth.gain_db))
    return found


def _aim_advice(part: Part, now: Outcome) -> list[Advice]:
    if now.air is None:
        return []
    space, placement, pattern = now.setup.drawn_space, now.setup.placement, now.setup.pattern
    sounding = [one for one in space.noises if one.sounds_at(space.hour)]
    if not sounding:
        return []
    aim = best_aim(
        space.box,
        sounding,
        placement.microphone_m,
        placement.mouth_m,
        pattern,
        hour=space.hour,
        background_dba=space.background_dba,
    )
    after = outcome_of(part, turned_deg=round(-aim.turned_deg))
    saves_db = now.air.noise_dba - after.in_air.noise_dba
    if saves_db < LEAST_QUIETER_DB:
        return []
    side = _("to the left") if aim.turned_deg > 0 else _("to the right")
    turn = (
        _("{turned_deg}° {side}, its null to the noise").format(turned_deg=figure(abs(aim.turned_deg)), side=side)
        if aim.turned_deg
        else _("straight at the mouth")
    )
    return [
        Advice(
            title=_("Turn the microphone {turn}").format(turn=turn),
            effect=_("{saves_db} dB of noise").format(saves_db=figure(-saves_db, 1, sign=True)),
            why=_("the {pattern} hears {noise_dba} dBA then").format(
                pattern=pattern, noise_dba=figure(after.in_air.noise_dba)
            ),
            action="spot",
            values={"turned": f"{round(-aim.turned_deg)}"},
            gain_db=saves_db,
        )
    ]
