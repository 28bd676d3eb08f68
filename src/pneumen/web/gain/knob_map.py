"""Mapping one's own knob: readings of a steady sound at several positions, and the map they make."""

import math
from dataclasses import dataclass
from typing import Final

import numpy as np
from django.db import transaction

from pneumen.core.errors import Contradiction, PneumenError, require_within
from pneumen.core.gear import USUAL_POSITIONS, Taper, taper_of
from pneumen.core.take import open_recording, steady_level_dbfs
from pneumen.web.audio.services import Sent, received
from pneumen.web.gear.models import Interface, KnobReading
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of
from pneumen.wording.figures import figure
from pneumen.wording.knob import clock_told, map_told
from pneumen.wording.refusals import refusal

POSITIONS: Final = tuple(number / (USUAL_POSITIONS - 1) for number in range(USUAL_POSITIONS))
LONGEST_S: Final = 30.0
SIMULATED_DB: Final = 54.0
SIMULATED_SPREAD_DB: Final = 0.15
WIDTH, HEIGHT, CENTRE, INNER, GROWS = 300.0, 262.0, (150.0, 140.0), 58.0, 44.0
TURN_DEG, FIRST_DEG = 300.0, -150.0
"""A knob turns through 300 degrees, from seven o'clock to five (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Mark:
    """A reading on the shell: where, and its rise over the left stop."""

    x: float
    y: float
    label_x: float
    label_y: float
    label: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Shell:
    """The map as a shell that widens with the gain, from the left stop round to the right."""

    width: float
    height: float
    path: str
    marks: tuple[Mark, ...]
    now: tuple[float, float]
    description: str


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadingRow:
    number: int
    told: str


@dataclass(frozen=True, slots=True, kw_only=True)
class KnobMapScreen:
    """What the page shows; shell is None until the readings make a map, problem says why they do not."""

    interface: str
    positions: tuple[tuple[str, str, bool], ...]
    rows: tuple[ReadingRow, ...]
    shell: Shell | None
    told: str
    problem: str


def mapped_interface(part: Part) -> Interface:
    """Return the interface whose knob can be mapped: one's own, with a knob that carries no decibels.

    Raises:
        Contradiction: where there is none.
    """
    row = part.own_interface
    if row is None or part.to_chain().gain_marking != "bare":
        raise Contradiction("interface", "must be your own, with a knob without decibels: say so on Start")
    return row


def knob_map_screen(part: Part) -> KnobMapScreen:
    """Return what the page shows.

    Raises:
        Contradiction: where there is no such knob.
    """
    row = mapped_interface(part)
    readings, problem, taper = list(row.readings.all()), "", None
    try:
        taper = taper_of([one.to_core() for one in readings])
    except PneumenError as error:
        problem = refusal(error) if readings else ""
    taken = {round(one.share, 3) for one in readings}
    return KnobMapScreen(
        interface=row.name,
        positions=tuple((f"{share:.4f}", _position(share), round(share, 3) in taken) for share in POSITIONS),
        rows=tuple(_reading_row(one) for one in readings),
        shell=None if taper is None else _shell(taper, part),
        told="" if taper is None else map_told(taper, simulated=any(one.simulated for one in readings)),
        problem=problem,
    )


def _reading_row(row: KnobReading) -> ReadingRow:
    simulated = ", simulated" if row.simulated else ""
    return ReadingRow(number=row.pk, told=f"{_position(row.share)}: {figure(row.level_db, 1)} dBFS{simulated}")


def _position(share: float) -> str:
    return f"{clock_told(share)} ({figure(100 * share)} % of its turn)"


def _shell(taper: Taper, part: Part) -> Shell:
    found = outcome_of(part)
    share_now = found.setup.chain.knob.share_at(found.gain_db)

    def at(share: float, beyond: float = 0.0) -> tuple[float, float]:
        angle = math.radians(FIRST_DEG + TURN_DEG * share)
        radius = INNER + GROWS * taper.rise_at(share) / max(taper.range_db, 1.0) + beyond
        return CENTRE[0] + radius * math.sin(angle), CENTRE[1] - radius * math.cos(angle)

    fine = np.linspace(0, 1, 91)
    outer = [at(float(one)) for one in fine]
    inner = [_inner(float(one)) for one in fine[::-1]]
    return Shell(
        width=WIDTH,
        height=HEIGHT,
        path="M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in (*outer, *inner)) + "Z",
        marks=tuple(
            Mark(
                x=at(share)[0],
                y=at(share)[1],
                label_x=at(share, 20)[0],
                label_y=at(share, 20)[1] + 4,
                label=figure(rise, sign=rise > 0),
            )
            for share, rise in zip(taper.shares, taper.rises_db, strict=True)
        ),
        now=at(share_now),
        description="; ".join(
            f"{figure(100 * share)} % of the turn: {figure(rise, 1)} dB over the left stop"
            for share, rise in zip(taper.shares, taper.rises_db, strict=True)
        ),
    )


def _inner(share: float) -> tuple[float, float]:
    angle = math.radians(FIRST_DEG + TURN_DEG * share)
    return CENTRE[0] + (INNER - 8) * math.sin(angle), CENTRE[1] - (INNER - 8) * math.cos(angle)


@transaction.atomic
def add_reading(part: Part, share: float, sent: Sent) -> None:
    """Measure the steady sound of a recording at a position of the knob; the newest at one position holds.

    Raises:
        UnreadableFile: where it is no recording of a steady sound.
        Contradiction, OutOfRange: where there is no such knob or position.
    """
    row = mapped_interface(part)
    require_within("share", share, 0, 1)
    with received(sent) as incoming, open_recording(incoming.path) as recording:
        rate_hz = recording.sample_rate_hz
        level_db = steady_level_dbfs(recording.loudest_channel(LONGEST_S), rate_hz)
    row.readings.filter(simulated=True).delete()  # a real knob is no stand-in's
    _keep(row, share, level_db, simulated=False)


@transaction.atomic
def simulate_readings(part: Part) -> None:
    """Let the stand-in's knob be turned: a taper of its own, read a little unsteadily."""
    row = mapped_interface(part)
    rng = np.random.default_rng([row.pk, 61])
    bend = rng.uniform(0.6, 1.6)
    row.readings.all().delete()
    for share in POSITIONS:
        _keep(row, share, -74 + SIMULATED_DB * share**bend + SIMULATED_SPREAD_DB * rng.normal(), simulated=True)


def _keep(row: Interface, share: float, level_db: float, *, simulated: bool) -> None:
    rounded = round(share, 4)
    row.readings.filter(share=rounded).delete()
    KnobReading.objects.create(owner=row.owner, interface=row, share=rounded, level_db=level_db, simulated=simulated)


@transaction.atomic
def remove_reading(part: Part, number: int) -> None:
    mapped_interface(part).readings.filter(pk=number).delete()


@transaction.atomic
def forget_map(part: Part) -> None:
    mapped_interface(part).readings.all().delete()
