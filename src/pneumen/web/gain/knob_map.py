"""Mapping one's own knob: readings of a steady sound at several positions, and the map they make."""

from dataclasses import dataclass
from typing import Final

from django.db import transaction

from pneumen.core.errors import Contradiction, PneumenError, require_within
from pneumen.core.gear import USUAL_POSITIONS, full_scale_dbu, taper_of
from pneumen.core.rig import simulate_knob
from pneumen.core.take import open_recording, steady_level_dbfs
from pneumen.web.audio.services import Sent, received
from pneumen.web.gain.knob_picture import Shell, draw_shell
from pneumen.web.gear.models import Interface, KnobReading
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of
from pneumen.wording.figures import figure
from pneumen.wording.knob import clock_told, map_told
from pneumen.wording.language import _
from pneumen.wording.refusals import refusal

POSITIONS: Final = tuple(number / (USUAL_POSITIONS - 1) for number in range(USUAL_POSITIONS))
LONGEST_S: Final = 30.0


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
        raise Contradiction("interface", _("must be your own, with a knob without decibels: say so on Start"))
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
        shell=None if taper is None else draw_shell(taper, _share_now(part)),
        told="" if taper is None else map_told(taper, simulated=any(one.simulated for one in readings)),
        problem=problem,
    )


def _reading_row(row: KnobReading) -> ReadingRow:
    simulated = ", simulated" if row.simulated else ""
    return ReadingRow(number=row.pk, told=f"{_position(row.share)}: {figure(row.level_db, 1)} dBFS{simulated}")


def _position(share: float) -> str:
    return _("{share} ({share_2} % of its turn)").format(share=clock_told(share), share_2=figure(100 * share))


def _share_now(part: Part) -> float:
    found = outcome_of(part)
    return found.setup.chain.knob.share_at(found.gain_db)


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
    row.readings.all().delete()
    for share, level_db in zip(POSITIONS, simulate_knob(POSITIONS, seed=row.pk), strict=True):
        _keep(row, share, level_db, simulated=True)


def _keep(row: Interface, share: float, level_db: float, *, simulated: bool) -> None:
    rounded = round(share, 4)
    row.readings.filter(share=rounded).delete()
    KnobReading.objects.create(owner=row.owner, interface=row, share=rounded, level_db=level_db, simulated=simulated)


@transaction.atomic
def know_level(part: Part, number: int, known_dbu: float) -> float:
    """Set what the input takes at its left stop, from a reading whose level at the input is known; return it.

    Raises:
        PneumenError: where there is no map yet, no such reading, or the level is none an input takes.
    """
    row = mapped_interface(part)
    reading = row.readings.filter(pk=number).first()
    if reading is None:
        raise Contradiction("reading", _("is not there any more: choose another one"))
    taper = taper_of([one.to_core() for one in row.readings.all()])
    row.max_input_dbu = round(full_scale_dbu(taper, reading.to_core(), known_dbu), 1)
    require_within(_("full scale"), row.max_input_dbu, -30, 40)
    row.save(update_fields=["max_input_dbu"])
    return row.max_input_dbu


@transaction.atomic
def remove_reading(part: Part, number: int) -> None:
    mapped_interface(part).readings.filter(pk=number).delete()


@transaction.atomic
def forget_map(part: Part) -> None:
    mapped_interface(part).readings.all().delete()
