"""What is heard of a room where a part stands: its decay, first echoes, noises by the hour; and who hears out."""

import math
from dataclasses import dataclass
from typing import Final

from django.db.models import prefetch_related_objects

from pneumen.core.forecast import PartSetup, first_echoes_of
from pneumen.core.room import (
    BANDS_HZ,
    Boxiness,
    Comb,
    boxiness_of,
    comb_of,
    hears,
    reverberation_times_eyring_s,
    table_echo,
)
from pneumen.core.verdict import Verdict
from pneumen.web.part.models import Part
from pneumen.web.room.outward import OutwardRow, outward_rows
from pneumen.web.room.reading import hours_of, noise_bands_of
from pneumen.web.room.sideview import ReverberationTimes, draw_reverberation_times
from pneumen.wording.figures import figure
from pneumen.wording.language import _
from pneumen.wording.room import faults_told, wall_told

MOST_ECHOES: Final = 4


@dataclass(frozen=True, slots=True, kw_only=True)
class Echo:
    """One echo worth knowing: from where, how late and strong, and what comb it makes."""

    surface: str
    late: str
    strength: str
    comb: str


@dataclass(frozen=True, slots=True, kw_only=True)
class HeardOfRoom:
    """What is heard of the room; hours is empty where nothing keeps hours."""

    rings: ReverberationTimes
    echoes: tuple[Echo, ...]
    boxiness: Boxiness
    boxed_in: str
    hours: tuple[tuple[str, str, bool], ...]
    noise_bands: tuple[tuple[str, str], ...]
    outwards: tuple[OutwardRow, ...]

    @property
    def too_loud_outwards(self) -> bool:
        """Whether somebody hears this part at an hour at which they should not."""
        return any(one.verdict != Verdict.CLEAR for one in self.outwards)


def boxiness_here(here: PartSetup) -> Boxiness:
    """Return how boxed in a part sounds where it stands."""
    place = here.placement
    return boxiness_of(here.drawn_space.box, place.mouth_m, place.microphone_m, here.pattern)


def heard_of_room_told(part: Part, here: PartSetup, echoes: tuple[Echo, ...]) -> HeardOfRoom:
    """Return what is heard of the room, with what echoes_told told."""
    room, boxiness = part.song.room, boxiness_here(here)
    prefetch_related_objects([room], "neighbours")
    layout = room.layout
    return HeardOfRoom(
        rings=draw_reverberation_times(
            reverberation_times_eyring_s(layout.bare_box),
            reverberation_times_eyring_s(layout.box),
            tuple(room.clap["t20_s"]) if room.clap else None,
        ),
        echoes=echoes[:MOST_ECHOES],
        boxiness=boxiness,
        boxed_in=faults_told(boxiness),
        hours=hours_of(here),
        noise_bands=noise_bands_of(here),
        outwards=outward_rows(part),
    )


def echoes_told(here: PartSetup) -> tuple[Echo, ...]:
    """The first reflections as this microphone hears them, tables too, the strongest first."""
    rows = []
    for found in first_echoes_of(here):
        share = found.share[BANDS_HZ.index(1000)]
        if share < LEAST_SHARE:
            continue
        comb = comb_of(found.delay_s, min(share**0.5, 0.99))
        rows.append((share, _echo_row(wall_told(found.wall), found.delay_s, share**0.5, comb)))
    rows += _table_echoes(here)
    return tuple(echo for _rest, echo in sorted(rows, key=lambda row: -row[0]))


LEAST_SHARE = 1e-5


def _table_echoes(here: PartSetup) -> list[tuple[float, Echo]]:
    """What a table between or under mouth and microphone throws back, as this microphone hears it."""
    rows = []
    for piece in here.drawn_space.furniture:
        found = table_echo(piece, here.placement.mouth_m, here.placement.microphone_m)
        if found is None:
            continue
        gain = found.gain * hears(
            here.pattern, here.placement.microphone_m, here.placement.axis, (*found.at_m, piece.furniture.size_m[2])
        )
        comb = comb_of(found.delay_s, min(gain, 0.99))
        rows.append((gain**2, _echo_row(piece.furniture.label.split(",")[0].lower(), found.delay_s, gain, comb)))
    return rows


def _echo_row(surface: str, delay_s: float, gain: float, comb: Comb) -> Echo:
    return Echo(
        surface=surface,
        late=_("{delay_s} ms later").format(delay_s=figure(1000 * delay_s, 1)),
        strength=f"{figure(20 * math.log10(max(gain, 1e-4)))} dB",
        comb=_("first notch {first_notch_hz} Hz, {notch_db} dB; ripple {ripple_db} dB").format(
            first_notch_hz=figure(comb.first_notch_hz),
            notch_db=figure(comb.notch_db, 1),
            ripple_db=figure(comb.ripple_db, 1),
        ),
    )
