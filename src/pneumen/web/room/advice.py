"""What to do next in a room: stand elsewhere, hang what is there, turn the microphone; each with what it brings."""

from dataclasses import dataclass

from pneumen.core.room import CLOSET_M3, baffle_behind, best_aim, room_sound_here
from pneumen.web.lengths import far, in_readers_lengths
from pneumen.web.room.picture import compass
from pneumen.web.room.services import best_hanging
from pneumen.web.room.standpoint import Standpoint, noise_dba_at, spots_in, standpoint_of
from pneumen.web.song.models import Part, Room
from pneumen.web.wording import figure

LEAST_BAFFLE_DB = 0.5


@dataclass(frozen=True, slots=True, kw_only=True)
class Advice:
    """One thing to do: what, what it brings, and the values one press applies (an action of the room's)."""

    title: str
    effect: str
    why: str
    action: str
    values: dict[str, str]


def advices_of(part: Part) -> tuple[Advice, ...]:
    """Return what to do next, the most effective first: other spots, hanging what is there, turning the microphone."""
    room = part.song.room
    here = standpoint_of(part, room.box)
    lead_db = float(room_sound_here(room.box, here.place()).lead_db[0])
    found = [*_spot_advices(room, here), *_hanging_advice(part, lead_db), *_baffle_advice(room, here)]
    found += _aim_advice(room, here)
    return tuple(advice for _, advice in sorted(found, key=lambda one: -one[0]))[:4]


def _spot_advices(room: Room, here: Standpoint) -> list[tuple[float, Advice]]:
    found = []
    for spot in spots_in(room, here, most=2):
        if spot.gain_db < 0.5:
            continue
        degrees = {(0.0, 1.0): 0, (1.0, 0.0): 90, (0.0, -1.0): 180, (-1.0, 0.0): 270}[spot.facing]
        place = f"{far(spot.x_m, 1)} from west, {far(spot.y_m, 1)} from south"
        found.append(
            (
                spot.gain_db,
                Advice(
                    title=f"Stand {place}, facing {compass(degrees)}",
                    effect=f"{figure(spot.gain_db, 1, sign=True)} dB over the room",
                    why=in_readers_lengths(", ".join(spot.reasons)),
                    action="spot",
                    values={"stand_x": f"{spot.x_m:.2f} m", "stand_y": f"{spot.y_m:.2f} m", "facing": str(degrees)},
                ),
            )
        )
    return found


def _hanging_advice(part: Part, lead_db: float) -> list[tuple[float, Advice]]:
    found = best_hanging(part)
    if found is None:
        return []
    arrangement, _ = found
    gain = arrangement.lead_after_db - lead_db
    if gain < 0.3:
        return []
    order = "; ".join(
        f"{one.piece.label}: {one.slot.label} ({figure(one.brings_db, 1, sign=True)} dB)" for one in arrangement.hung
    )
    proven = (
        ""
        if not arrangement.proven_within_db
        else f"; the best may lie {figure(arrangement.proven_within_db, 1)} dB beyond"
    )
    return [
        (
            gain,
            Advice(
                title="Hang what you have where it does most",
                effect=f"{figure(gain, 1, sign=True)} dB over the room",
                why=f"{order}{proven}",
                action="hang-best",
                values={},
            ),
        )
    ]


def _baffle_advice(room: Room, here: Standpoint) -> list[tuple[float, Advice]]:
    """The open-room school's own: something soft that stands behind the performer, without a nail in any wall."""
    if room.box.volume_m3 < CLOSET_M3:
        return []
    baffle = baffle_behind(room.box, here.place())
    if baffle.gain_db < LEAST_BAFFLE_DB:
        return []
    return [
        (
            baffle.gain_db,
            Advice(
                title="Stand a baffle behind you: packing blankets over a pole on two stands",
                effect=f"{figure(baffle.gain_db, 1, sign=True)} dB over the room",
                why=f"it takes what would go to the {baffle.behind} wall; weight on the feet, nothing over your head",
                action="",
                values={},
            ),
        )
    ]


def _aim_advice(room: Room, here: Standpoint) -> list[tuple[float, Advice]]:
    sounding = [one for one in room.noise_sources if one.sounds_at(room.hour)]
    if not sounding:
        return []
    aim = best_aim(
        room.box,
        sounding,
        here.microphone_m,
        here.mouth_m,
        here.pattern,
        hour=room.hour,
        background_dba=room.background_dba,
    )
    saves_db = noise_dba_at(room, here, room.hour) - aim.noise_dba
    if saves_db < 0.5:
        return []
    side = "to the left" if aim.turned_deg > 0 else "to the right"
    turn = (
        f"{figure(abs(aim.turned_deg))}° {side}, its null to the noise" if aim.turned_deg else "straight at the mouth"
    )
    return [
        (
            saves_db,
            Advice(
                title=f"Turn the microphone {turn}",
                effect=f"{figure(-saves_db, 1, sign=True)} dB of noise",
                why=f"the {here.pattern} hears {figure(aim.noise_dba)} dBA then",
                action="spot",
                values={"turned": f"{-aim.turned_deg:.0f}"},
            ),
        )
    ]
