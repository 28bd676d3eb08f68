"""Packages side by side: up to three sums of money, or what is in use, by what each costs, holds and lets one do."""

import math
from dataclasses import dataclass

from pneumen.core.forecast import outcome
from pneumen.core.kit import Frontier, Kit, burden_of, growth_of, strongest_of
from pneumen.web.fields import CheckField, NumberField, StepForm
from pneumen.web.kit.needs import parts_planned
from pneumen.web.kit.packing import packing_of
from pneumen.web.kit.services import CENT, fixed_cost, frontier_of_song, in_use, kit_looked_at, places_within
from pneumen.web.settle import settle
from pneumen.web.song.models import Song
from pneumen.wording.figures import figure, money
from pneumen.wording.growth import burden_told, growth_told
from pneumen.wording.language import _

SUMS = ("first", "second", "third")


class PackagesForm(StepForm):
    """The sums to hold side by side; an empty one is left out."""

    problem_id = "packages-problem"
    remembers = False
    first = NumberField(_("One sum"), decimals=2)
    second = NumberField("another", decimals=2)
    third = NumberField("a third", decimals=2)
    mine = CheckField(_("in place of the third: the kit in use, put together by hand"))


@dataclass(frozen=True, slots=True, kw_only=True)
class Package:
    """One column: its name, what it costs, what is in it, what it does for each part, what it lets one do later."""

    name: str
    total: str
    lines: tuple[tuple[int, str, str], ...]
    figures: tuple[tuple[str, str], ...]
    later: tuple[str, ...]
    learning: str


def usual_sums(song: Song) -> tuple[float, ...]:
    """Return the sums to begin with, each once: the cheapest kit, the recommended one, and the money (or twice that).

    Raises:
        NothingFits: where there is no kit within the picture.
    """
    frontier = frontier_of_song(song)
    beside = fixed_cost(song, frontier)
    totals = [point[0] + beside for point in frontier.points]
    recommended = totals[frontier.recommended()]
    most = song.budget if song.budget > recommended else 2 * recommended
    return tuple(dict.fromkeys((totals[-1], recommended, most)))


def packages_of(song: Song, sums: tuple[float, ...], *, mine: bool) -> tuple[Package, ...]:
    """Return the packages of some sums of money, cheapest first, each once; with the kit in use last where asked.

    A sum buys what is recommended for it; where a smaller one bought that already, the best that it pays for.

    Raises:
        NothingFits: where there is no kit within the picture.
    """
    frontier = frontier_of_song(song)
    by_kit: dict[int | None, float] = {}
    for one in sorted(set(sums)):
        within = places_within(song, frontier, one)
        number = frontier.recommended(within) if within else None
        if number in by_kit and within:
            number = strongest_of(frontier.points, within)
        by_kit.setdefault(number, one)  # two sums may buy the same all the same
    found = [_of_sum(song, frontier, number, one) for number, one in by_kit.items()]
    return (*found, _in_use(song)) if mine else tuple(found)


def _of_sum(song: Song, frontier: Frontier, number: int | None, budget: float) -> Package:
    if number is None:
        cheapest = frontier.points[-1][0] + fixed_cost(song, frontier)
        return Package(
            name=_("For {budget}").format(budget=money(budget)),
            total="–",
            lines=(),
            figures=(),
            later=(
                _("No whole kit costs so little: the cheapest is {cheapest}. Kit tells what to buy first.").format(
                    cheapest=money(cheapest)
                ),
            ),
            learning="",
        )
    kit = kit_looked_at(song, frontier, number)
    return Package(
        name=_name(frontier, kit, budget),
        total=money(kit.total + fixed_cost(song, frontier)),
        lines=tuple((line.count, line.name, line.price) for line in packing_of(kit, song).lines),
        figures=_figures(song, kit),
        later=tuple(growth_told(one) for one in growth_of(frontier.needs, kit)),
        learning=burden_told(burden_of(kit, frontier.needs.parts[0].source)),
    )


def _name(frontier: Frontier, kit: Kit, budget: float) -> str:
    told = "a beginning"
    if kit.worth(frontier.needs).is_enough:
        told = "enough" if kit.total <= frontier.points[frontier.recommended()][0] + CENT else _("more than is needed")
    return _("For {budget}: {told}").format(budget=money(budget), told=told)


def _figures(song: Song, kit: Kit) -> tuple[tuple[str, str], ...]:
    told = []
    for part, levels, lead_db in zip(parts_planned(song), kit.parts, kit.leads_db, strict=True):
        over = _(", {lead_db} dB over the room").format(lead_db=figure(lead_db)) if math.isfinite(lead_db) else ""
        told.append(
            (
                part.name,
                _("{clean_range_db} dB clean{over}").format(
                    clean_range_db=figure(levels.levels.clean_range_db), over=over
                ),
            )
        )
    return tuple(told)


def _in_use(song: Song) -> Package:
    kit = in_use(song)
    told = []
    for part in parts_planned(song):
        found = outcome(settle(part))
        over = _(", {lead_db} dB over the room").format(lead_db=figure(found.air.lead_db)) if found.air else ""
        told.append(
            (
                part.name,
                _("{clean_range_db} dB clean{over}").format(
                    clean_range_db=figure(found.levels.clean_range_db), over=over
                ),
            )
        )
    return Package(
        name=_("In use"),
        total=money(kit.total),
        lines=tuple((line.count, line.name, line.price) for line in packing_of(kit, song).lines),
        figures=tuple(told),
        later=(),
        learning="",
    )
