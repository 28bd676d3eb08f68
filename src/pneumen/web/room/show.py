"""What the Room screen says: sentence, plan, ring time, what is heard of the room, what to do next, why."""

import json
import math
from dataclasses import dataclass

import numpy as np

from pneumen.core.room import (
    BANDS_HZ,
    FURNITURE,
    MATERIALS,
    OPENINGS,
    PARTITIONS,
    SPECTRA,
    TURNS,
    WALLS,
    Boxiness,
    Comb,
    Opening,
    Placed,
    boxiness_of,
    comb_of,
    critical_distance_m,
    echoes_of,
    heard_of,
    hears,
    judge_room,
    recorded_factor,
    ring_time_middle_s,
    ring_times_eyring_s,
    ring_times_sabine_s,
    room_map,
    room_sound_here,
    schroeder_frequency_hz,
    stood_in,
    table_echo,
)
from pneumen.web.gain.why import Why
from pneumen.web.lengths import far, in_readers_lengths, near
from pneumen.web.room.cases import Case, cases_of
from pneumen.web.room.ground import Ground, draw_ground
from pneumen.web.room.outward import OutwardRow, outward_rows
from pneumen.web.room.picture import NARROW, WIDE, Plan, draw_plan
from pneumen.web.room.sideview import RingTimes, Side, draw_ring_times, draw_side
from pneumen.web.room.standpoint import Standpoint, noise_dba_at, standpoint_of
from pneumen.web.song.models import Part, Room
from pneumen.web.wording import figure

MOST_GROUNDS = 64
_grounds: dict[tuple, Ground] = {}
"""Contours drawn lately: a step to the side leaves them as they are."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Echo:
    """One echo worth knowing: from where, how late and strong, and what comb it makes."""

    surface: str
    late: str
    strength: str
    comb: str


@dataclass(frozen=True, slots=True, kw_only=True)
class RoomScreen:
    verdict: str
    sentence: str
    room: Room
    here: Standpoint
    plans: tuple[Plan, ...]
    side: Side
    rings: RingTimes
    reading: tuple[tuple[str, str, str], ...]
    echoes: tuple[Echo, ...]
    boxiness: Boxiness
    hours: tuple[tuple[str, str, bool], ...]
    noise_bands: tuple[tuple[str, str], ...]
    spectra: dict[str, str]
    outwards: tuple[OutwardRow, ...]
    cases: tuple[Case, ...]
    partitions: dict[str, str]
    clap_told: str
    whys: tuple[Why, ...]
    surfaces: tuple[tuple[str, str], ...]
    materials: dict[str, str]
    coverings: dict[str, str]
    furniture: dict[str, str]
    turns: tuple[int, ...]
    placed: tuple[tuple[int, str, Placed], ...]
    openings: tuple[tuple[int, str, Opening], ...]
    opening_kinds: dict[str, str]


def room_screen(
    part: Part,
    **tried: float,
) -> RoomScreen:
    """Return what the Room screen shows, as stored or with another place tried out.

    Args:
        tried: fields of Standpoint, as standpoint_of takes them.
    """
    room = part.song.room
    box, here = room.box, standpoint_of(part, room.box, **tried)
    lead_db = float(room_sound_here(box, here.place()).lead_db[0])
    echoes = _echoes(room, here)
    boxiness = boxiness_of(box, here.mouth_m, here.microphone_m, here.pattern)
    return RoomScreen(
        verdict=_verdict(part, room, here, lead_db),
        sentence=_sentence(part, here, lead_db, echoes),
        room=room,
        here=here,
        plans=tuple(draw_plan(room, here, _ground(room, here), frame, lead_db) for frame in (WIDE, NARROW)),
        side=draw_side(room, here),
        rings=draw_ring_times(
            ring_times_eyring_s(room.bare_box),
            ring_times_eyring_s(box),
            tuple(room.clap["t20_s"]) if room.clap else None,
        ),
        reading=_reading(room, here, lead_db),
        echoes=echoes[:4],
        boxiness=boxiness,
        hours=_hours(room, here),
        noise_bands=_noise_bands(room, here),
        spectra={slug: label for slug, (label, _) in SPECTRA.items()},
        outwards=outward_rows(part),
        cases=cases_of(part, here),
        partitions={slug: label for slug, (label, _) in PARTITIONS.items()},
        clap_told=_clap_told(room),
        whys=_whys(room, here, lead_db, boxiness),
        surfaces=tuple(
            (wall, room.surfaces.get(wall, "plaster"))
            for wall in ("floor", "ceiling", "north", "east", "south", "west")
        ),
        materials={slug: in_readers_lengths(one.label) for slug, one in MATERIALS.items()},
        coverings={slug: in_readers_lengths(one.label) for slug, one in MATERIALS.items() if one.where == "covering"},
        turns=TURNS,
        furniture={kind: one.label for kind, one in FURNITURE.items()},
        placed=tuple((number, piece.furniture.label, piece) for number, piece in room.placed),
        openings=tuple((number, MATERIALS[one.kind].label, one) for number, one in room.core_openings),
        opening_kinds={slug: MATERIALS[slug].label for slug in OPENINGS},
    )


def _ground(room: Room, here: Standpoint) -> Ground:
    drawing = json.dumps([room.size_m, room.surfaces, room.furniture, room.openings, room.coverings], sort_keys=True)
    how = (round(here.across_m, 3), round(here.above_m, 3), here.pattern, here.source_factor, here.backwards)
    key = (drawing, round(here.facing_deg), here.height_m, *how)
    if key not in _grounds:
        heard = room_map(
            room.box,
            mouth_m=here.height_m,
            microphone_m=here.microphone_m[2],
            distance_m=here.across_m,
            facing=here.ahead,
            pattern=here.pattern,
            source_factor=here.source_factor,
            backwards=here.backwards,
        )
        if len(_grounds) >= MOST_GROUNDS:
            _grounds.pop(next(iter(_grounds)), None)
        _grounds[key] = draw_ground(heard, room.size_y_m)
    return _grounds[key]


def _verdict(part: Part, room: Room, here: Standpoint, lead_db: float) -> str:
    if part.is_plugged:
        return "clear"
    verdict = judge_room(lead_db)
    return "watch" if verdict == "clear" and _in_the_way(room, here) else verdict


def _in_the_way(room: Room, here: Standpoint) -> Placed | None:
    return stood_in([piece for _, piece in room.placed], here.mouth_m)


def _sentence(part: Part, here: Standpoint, lead_db: float, echoes: tuple[Echo, ...]) -> str:
    if part.is_plugged:
        return "Plugged in: no room reaches the file. The plan shows what a microphone would hear."
    wardrobe = _in_the_way(part.song.room, here)
    if wardrobe:
        return f"{part.name} would stand in the {wardrobe.furniture.label.split(',')[0].lower()}: move one of them."
    strongest = f"; the {echoes[0].surface} gives the strongest echo" if echoes else ""
    return f"At {near(here.distance_m)} the direct sound stands {figure(lead_db)} dB over the room{strongest}."


def _critical(room: Room, here: Standpoint) -> str:
    """The critical distance of this microphone and source."""
    if not room.ring_s:
        return "nowhere"
    factor = recorded_factor(here.source_factor, backwards=here.backwards)
    return near(critical_distance_m(room.box.volume_m3, room.ring_s, here.pattern, factor))


def _reading(room: Room, here: Standpoint, lead_db: float) -> tuple[tuple[str, str, str], ...]:
    ring_s, box = room.ring_s, room.box
    noise = noise_dba_at(room, here, room.hour)
    return (
        ("Over the room", figure(lead_db), "dB"),
        ("Room as loud as you from", _critical(room, here), ""),
        ("Ring time, middle", figure(ring_s, 2), "s"),
        ("Noise at the microphone", figure(noise), "dBA"),
        ("Volume", figure(box.volume_m3, 1), "m³"),
        ("Single modes up to", figure(schroeder_frequency_hz(box.volume_m3, ring_s)) if ring_s else "–", "Hz"),
    )


def _hours(room: Room, here: Standpoint) -> tuple[tuple[str, str, bool], ...]:
    """The noise at the microphone through the day, where anything keeps hours."""
    if not any((row["from"], row["to"]) != (0, 24) for row in room.noises):
        return ()
    known: dict[tuple[bool, ...], float] = {}
    levels = []
    for hour in range(24):
        sounding = tuple(one.sounds_at(hour) for one in room.noise_sources)
        if sounding not in known:
            known[sounding] = noise_dba_at(room, here, hour)
        levels.append((hour, known[sounding]))
    quietest = min(level for _, level in levels)
    spans: list[tuple[int, int, float]] = []
    for hour, level in levels:
        if spans and abs(spans[-1][2] - level) < 0.5:
            spans[-1] = (spans[-1][0], hour + 1, spans[-1][2])
        else:
            spans.append((hour, hour + 1, level))
    return tuple((f"{low} to {high}", figure(level), level < quietest + 0.5) for low, high, level in spans)


def _noise_bands(room: Room, here: Standpoint) -> tuple[tuple[str, str], ...]:
    """What sounds at this hour at the microphone, by octave and A-weighted; the background has no spectrum."""
    sounding = [one for one in room.noise_sources if one.sounds_at(room.hour)]
    if not sounding:
        return ()
    heard = heard_of(room.box, sounding, here.microphone_m, here.axis, here.pattern)
    bands = 10 * np.log10(sum(10 ** (one.bands_dba / 10) for one in heard))
    labels = (str(band) if band < 1000 else f"{band // 1000} k" for band in BANDS_HZ)
    return tuple((label, figure(float(level))) for label, level in zip(labels, bands, strict=True))


def _echoes(room: Room, here: Standpoint) -> tuple[Echo, ...]:
    """The first reflections as this microphone hears them, tables too, the strongest first."""
    found = echoes_of(room.box, here.mouth_m, here.microphone_m, pattern=here.pattern, aim=here.axis, order=1)
    middle, rows = BANDS_HZ.index(1000), []
    for number in range(len(found.delay_s)):
        share, delay_s = float(found.share[number, middle]), float(found.delay_s[number])
        if found.order[number] != 1 or share < 1e-5:
            continue
        comb = comb_of(delay_s, min(share**0.5, 0.99))
        wall = _wall_words(WALLS[int(found.hits[number].argmax())])
        rows.append((share, _echo_row(wall, delay_s, share**0.5, comb)))
    rows += _table_echoes(room, here)
    return tuple(echo for _, echo in sorted(rows, key=lambda row: -row[0]))


def _table_echoes(room: Room, here: Standpoint) -> list[tuple[float, Echo]]:
    """What a table between or under mouth and microphone throws back, as this microphone hears it."""
    rows = []
    for _, piece in room.placed:
        found = table_echo(piece, here.mouth_m, here.microphone_m)
        if found is None:
            continue
        gain = found.gain * hears(here.pattern, here.microphone_m, here.axis, (*found.at_m, piece.furniture.size_m[2]))
        comb = comb_of(found.delay_s, min(gain, 0.99))
        rows.append((gain**2, _echo_row(piece.furniture.label.split(",")[0].lower(), found.delay_s, gain, comb)))
    return rows


def _echo_row(surface: str, delay_s: float, gain: float, comb: Comb) -> Echo:
    return Echo(
        surface=surface,
        late=f"{figure(1000 * delay_s, 1)} ms later",
        strength=f"{figure(20 * math.log10(max(gain, 1e-4)))} dB",
        comb=f"first notch {figure(comb.first_notch_hz)} Hz, {figure(comb.notch_db, 1)} dB; ripple {figure(comb.ripple_db, 1)} dB",
    )


def _wall_words(wall: str) -> str:
    return wall if wall in ("floor", "ceiling") else f"{wall} wall"


def _clap_told(room: Room) -> str:
    if not room.clap:
        return ""
    ring_s, flutter = room.clap["rt60_s"], room.clap["flutter"]
    told = (
        f"A clap measured {figure(ring_s, 2)} s in the middle"
        if ring_s
        else "The clap was too faint for a ring time in the middle"
    )
    computed = ring_times_eyring_s(room.box)
    if ring_s and computed[2] and computed[3]:
        told += f"; computed are {figure((computed[2] + computed[3]) / 2, 2)} s"
    limited = [str(band) for band, why in zip(room.clap["bands_hz"], room.clap["limited_by"], strict=True) if why]
    told += f". Not told: {', '.join(limited)} Hz, lost in noise or filter" if limited else ""
    if flutter["found"]:
        told += (
            f". Flutter: echoes between walls {far(flutter['spacing_m'])} apart, {_pair_of(room, flutter['spacing_m'])}"
        )
    return f"{told}."


def _pair_of(room: Room, spacing_m: float) -> str:
    pairs = (("west and east", room.size_x_m), ("south and north", room.size_y_m), ("floor and ceiling", room.size_z_m))
    name, distance = min(pairs, key=lambda pair: abs(pair[1] - spacing_m))
    return (
        f"which are {name}: hang something on one of them"
        if abs(distance - spacing_m) < 0.25
        else "which fits no pair here"
    )


def _coincidences(boxiness: Boxiness) -> str:
    """Modes that fall together are heard as one loud note."""
    if not boxiness.coincidences_hz:
        return "No two of its lowest modes fall together."
    hertz = ", ".join(figure(one) for one in boxiness.coincidences_hz[:4])
    return f"Modes fall together at {hertz} Hz: notes there boom."


def _whys(room: Room, here: Standpoint, lead_db: float, boxiness: Boxiness) -> tuple[Why, ...]:
    box = room.box
    sloping = ("The sloping part is taken at its mean height.",) if room.sloping else ()
    return (
        Why(
            title="How the room sound is worked out",
            lines=(
                f"Mirror images to the third order, each with the {here.pattern}’s pattern and what its path meets, then Eyring’s tail: "
                f"the direct sound leads by {figure(lead_db, 1)} dB, weighted for speech, 500 Hz to 4 kHz.",
                "The contours spread what hangs over its whole wall; the figure here follows each echo to the spot it meets.",
                "Furnished rooms are less even than this: floor and ceiling soft, walls bare ring on.",
                *sloping,
            ),
            source="Allen and Berkley, 1979; Eyring, 1930; weights of ANSI S3.5 (from memory)",
        ),
        Why(
            title="Ring time",
            lines=(
                f"{figure(box.volume_m3, 1)} m³, {figure(box.surface_m2)} m² of walls, {figure(float(box.absorption_m2[3]), 1)} m² of absorption at 1 kHz.",
                f"Eyring: T = 0.161 V / (−S ln(1 − A/S)), in the middle {figure(ring_time_middle_s(ring_times_eyring_s(box)), 2)} s. "
                f"Sabine: T = 0.161 V/A, {figure(ring_time_middle_s(ring_times_sabine_s(box)), 2)} s; it says too much where much absorbs.",
            ),
            source="Eyring, 1930; Sabine, 1922; coefficients: Vorländer, Auralization, 2008, and estimates that say so",
        ),
        Why(
            title="Boxed in?",
            lines=(
                f"{boxiness.modes} modes below 150 Hz; first echoes within 5 ms at {figure(boxiness.early_db)} dB.",
                _coincidences(boxiness),
                "A closet full of clothes is dry, but clothes take the treble and leave the bass; a larger room with something soft "
                "behind the singer keeps the first echoes late.",
            ),
            source="common practice, no source",
        ),
    )
