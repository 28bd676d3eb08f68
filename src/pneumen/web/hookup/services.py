"""The chain of a part's session, and what is chosen and ticked there."""

from dataclasses import asdict, dataclass

from django.db import transaction
from django.db.models import QuerySet

from pneumen.core.errors import Contradiction
from pneumen.core.forecast import CueMix as CoreMix
from pneumen.core.hookup import CHOICES, OF_A_PART, VALUES, Chain, Choice, can_be_added, with_choices
from pneumen.core.kit import Recorded, connected
from pneumen.core.line import way_of
from pneumen.web.hookup.gear import GEAR, chosen_gear, is_of_a_part, now_of, plan_gear, set_gear
from pneumen.web.hookup.models import Choice as ChoiceRow
from pneumen.web.hookup.models import CueMix, Tick
from pneumen.web.kit.needs import cable_m_of, parts_of_song
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of
from pneumen.wording.language import _

UNACCOMPANIED = ("spoken-word",)
"""What is recorded with nothing playing, unless its person says otherwise."""
AT_HAND = "_connection"
LOUDEST_AT = ("microphone", "plug")
AT_A_DEVICE = (
    *("lift", "outlet", "box", "speaker", "plug", "rate", "system", "watt", "power", "monitor", "returns", "ears"),
    *("supply", "switch", "current", "lifts"),
)


def parts_with(part: Part) -> list[Part]:
    """Return the parts that are recorded together with a part, itself among them, in the song's order."""
    others = [one for one in parts_of_song(part.song) if one.session == part.session and one.pk != part.pk]
    return sorted([part, *others], key=lambda one: (one.position, one.pk))


@dataclass(frozen=True, slots=True, kw_only=True)
class Connection:
    """A session's chain as its gear makes it, the parts that are recorded in it, and each one's way."""

    chain: Chain
    ways: tuple[tuple[str, ...], ...]
    parts: tuple[Part, ...]

    def begins(self, part: Part) -> str:
        """Return the device a part's sound is picked up with."""
        return self.ways[[one.pk for one in self.parts].index(part.pk)][0]


def connection_of(part: Part) -> Connection:
    """Return the chain of a part's session before anything was chosen; worked out once for a row at hand."""
    known: Connection | None = part.__dict__.get(AT_HAND)
    if known is None:
        known = part.__dict__[AT_HAND] = _connection_of(part)
    return known


def _connection_of(part: Part) -> Connection:
    parts = parts_with(part)
    found = connected(
        [_recorded(one) for one in parts],
        monitors=part.song.monitors,
        system=part.song.system if part.song.system in VALUES["system"] else "",
        rate_hz=part.song.sample_rate_hz,
        cable_m=cable_m_of(part.song),
    )
    return Connection(chain=found.chain, ways=found.ways, parts=tuple(parts))


def _recorded(part: Part) -> Recorded:
    found, microphone = outcome_of(part), part.microphone
    levels = {one.place: one.level for one in way_of(found.levels)}
    loudest = next((levels[place] for place in LOUDEST_AT if place in levels), None)
    return Recorded(
        name=part.name,
        source=part.source_facts,
        microphone=microphone,
        hub=part.interface,
        booster=part.booster,
        box=part.box,
        pad=part.pad,
        strongest_pad_db=part.strongest_pad_db,
        channels=part.channels,
        output_dbu=None if loudest is None else loudest - found.setup.booster_db,
    )


def part_at(connection: Connection, at: str) -> Part | None:
    """Return the part whose way passes a joint or a device; None where none does."""
    device = next((one.from_device for one in connection.chain.cables if one.ends_at == at), at.partition(".")[0])
    ways = zip(connection.parts, connection.ways, strict=True)
    return next((part for part, way in ways if device in way), None)


def _rows(part: Part) -> QuerySet[ChoiceRow]:
    return part.song.hookup_choices.filter(session=part.session)


def choices_of(part: Part) -> list[Choice]:
    return [row.to_core() for row in _rows(part)]


def chain_of(part: Part) -> Chain:
    """Return the chain of a part's session as it was chosen."""
    return with_choices(connection_of(part).chain, choices_of(part))


@transaction.atomic
def choose(part: Part, choice: Choice) -> None:
    """Keep a choice; the newest about a joint holds, and what the gear would be anyway needs none.

    What belongs to a part is kept with its gear, so that levels and lists follow.

    Raises:
        Contradiction: for a joint that is not in this chain.
    """
    connection = connection_of(part)
    belongs_to = part_at(connection, choice.at)
    chosen = with_choices(connection.chain, choices_of(part))
    of_a_part = is_of_a_part(choice, belongs_to)
    there = belongs_to is not None if of_a_part else _is_there(connection.chain, choice) or _is_there(chosen, choice)
    if not there:
        raise Contradiction(
            "joint", _("{at} is not in this chain: it was taken out, or is called otherwise").format(at=choice.at)
        )
    if of_a_part and belongs_to is not None:
        set_gear(belongs_to, choice)
        return
    _rows(part).filter(what=choice.what, at=choice.at).delete()
    others = choices_of(part)
    if with_choices(connection.chain, [*others, choice]) != with_choices(connection.chain, others):
        ChoiceRow.objects.create(
            owner=part.owner,
            song=part.song,
            session=part.session,
            what=choice.what,
            at=choice.at,
            value=choice.value,
        )


def is_about_chain_alone(what: str) -> bool:
    """Tell whether a choice about this leaves the gear of every part as it is."""
    return what in CHOICES and what not in (*GEAR, *OF_A_PART)


@transaction.atomic
def forget(part: Part, what: str, at: str) -> None:
    """Let a choice go: what the gear would be anyway holds again."""
    _rows(part).filter(what=what, at=at).delete()
    if what in GEAR and (belongs_to := part_at(connection_of(part), at)):
        plan_gear(belongs_to, what)


def by_hand(connection: Connection) -> tuple[tuple[str, Choice], ...]:
    """Return what was put before the parts' inputs by hand: whose it is, and the choice."""
    return tuple(
        (part.name, Choice(what=what, at=_last_joint(connection.chain, way), value=now_of(part, what)))
        for part, way in zip(connection.parts, connection.ways, strict=True)
        for what in chosen_gear(part)
    )


def _last_joint(chain: Chain, way: tuple[str, ...]) -> str:
    """Return where a way comes to an interface."""
    ends = [one.ends_at for one in chain.cables if one.from_device in way and one.to_device in way]
    return next((one for one in reversed(ends) if chain.by_id[one.partition(".")[0]].kind == "interface"), way[0])


def _is_there(chain: Chain, choice: Choice) -> bool:
    if choice.what == "also":
        return choice.value == "off" or choice.at in can_be_added(chain)
    if choice.what in AT_A_DEVICE:
        return choice.at.partition(".")[0] in chain.by_id
    return any(one.ends_at == choice.at for one in chain.cables)


def mix_of(part: Part) -> CoreMix:
    """Return what is in the headphones in a part's session."""
    row = next((row for row in part.song.cue_mixes.all() if row.session == part.session), None)
    if row is not None:
        return row.to_core()
    return CoreMix(backing_db_spl=None) if part.source in UNACCOMPANIED else CoreMix()


def keep_mix(part: Part, mix: CoreMix) -> None:
    CueMix.objects.update_or_create(
        song=part.song,
        session=part.session,
        defaults={"owner": part.owner, **asdict(mix)},
    )


def tick(part: Part, step: str, *, done: bool) -> None:
    """Tick a step of the checklist, or take the tick back."""
    if done:
        Tick.objects.get_or_create(part=part, step=step, defaults={"owner": part.owner})
    else:
        part.ticks.filter(step=step).delete()
