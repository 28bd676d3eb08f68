"""The chain of a part's session, and what is chosen and ticked there."""

from dataclasses import asdict, dataclass

from django.db import transaction
from django.db.models import QuerySet

from pneumen.core.errors import Contradiction
from pneumen.core.forecast import CueMix as CoreMix
from pneumen.core.hookup import Chain, Choice, can_be_added, with_choices
from pneumen.core.kit import Recorded, connected
from pneumen.core.line import way_of
from pneumen.web.hookup.models import Choice as ChoiceRow
from pneumen.web.hookup.models import CueMix, Tick
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of

LOUDEST_AT = ("microphone", "plug")
AT_A_DEVICE = ("lift", "outlet", "box", "speaker", "plug")


def parts_with(part: Part) -> list[Part]:
    """Return the parts that are recorded together with a part, itself among them, in the song's order."""
    rows = Part.objects.with_gear().filter(song_id=part.song_id, session=part.session).exclude(pk=part.pk)
    others = list(rows)
    for one in others:
        one.song = part.song  # with its room, as it is at hand
    return sorted([part, *others], key=lambda one: (one.position, one.pk))


@dataclass(frozen=True, slots=True, kw_only=True)
class Connection:
    """A session's chain as its gear makes it, the parts that are recorded in it, and each one's way."""

    chain: Chain
    ways: tuple[tuple[str, ...], ...]
    parts: tuple[Part, ...]


def connection_of(part: Part) -> Connection:
    """Return the chain of a part's session, before anything was chosen at a joint."""
    parts = parts_with(part)
    found = connected([_recorded(one) for one in parts], monitors=part.song.monitors)
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
        channels=part.channels,
        output_dbu=None if loudest is None else loudest - found.setup.booster_db,
    )


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

    Raises:
        Contradiction: for a joint that is not in this chain.
    """
    connection = connection_of(part)
    chosen = with_choices(connection.chain, choices_of(part))
    if not (_is_there(connection.chain, choice) or _is_there(chosen, choice)):
        raise Contradiction("joint", f"{choice.at} is not in this chain: it was taken out, or is called otherwise")
    forget(part, choice.what, choice.at)
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


@transaction.atomic
def forget(part: Part, what: str, at: str) -> None:
    """Let a choice go: what the gear would be anyway holds again."""
    _rows(part).filter(what=what, at=at).delete()


def _is_there(chain: Chain, choice: Choice) -> bool:
    if choice.what == "also":
        return choice.at in can_be_added(chain)
    if choice.what in AT_A_DEVICE:
        return choice.at in chain.by_id
    return any(one.ends_at == choice.at for one in chain.cables)


def mix_of(part: Part) -> CoreMix:
    """Return what is in the headphones in a part's session."""
    row = part.song.cue_mixes.filter(session=part.session).first()
    return row.to_core() if row else CoreMix()


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
