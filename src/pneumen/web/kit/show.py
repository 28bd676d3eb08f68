"""What the Kit screen says: sentence, picture, three picks, the packing list, what money buys, why."""

import math
from dataclasses import dataclass
from typing import Any

from pneumen.core.errors import NothingFits, given
from pneumen.core.forecast import judge_kit, judge_overload
from pneumen.core.kit import (
    Frontier,
    Kit,
    KitInUse,
    MoneyStory,
    Swap,
    findings_of_kit,
    money_story,
    strongest_of,
    swaps_of,
)
from pneumen.core.verdict import Verdict, worst_of
from pneumen.web.drawing import those_seen
from pneumen.web.gain.why import Why
from pneumen.web.kept_rows import as_worked_out
from pneumen.web.kit.amiss import amiss_told
from pneumen.web.kit.in_use import PartInUse, kit_verdict_of, parts_in_use, shortest_of
from pneumen.web.kit.needs import horizon_of, parts_of_song, parts_planned
from pneumen.web.kit.order import OrderStep, order_of, records_by_itself
from pneumen.web.kit.packing import Packing, packing_of
from pneumen.web.kit.picture import NARROW, WIDE, FrontierPicture, Points, draw_frontier
from pneumen.web.kit.programs import Program, programs_of
from pneumen.web.kit.routes import figures_told
from pneumen.web.kit.sentence import Now, clean_told, sentence_of
from pneumen.web.kit.services import (
    CENT,
    crowd_in,
    fixed_cost,
    frontier_of_song,
    in_use,
    is_set_up_with,
    kit_looked_at,
    parts_to_plan,
    places_within,
    recommended_number,
    written,
)
from pneumen.web.kit.why import whys_of
from pneumen.web.song.models import Song
from pneumen.wording.figures import figure, money
from pneumen.wording.hanging import own_hung_told
from pneumen.wording.kit import TRAITS, advice_on_kit, why_nothing_fits
from pneumen.wording.language import _


@dataclass(frozen=True, slots=True, kw_only=True)
class Pick:
    """One of the kits worth looking at first."""

    title: str
    number: int
    total: str
    figures: str
    chosen: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class SwapTold:
    """What a little more money brings that no decibel tells."""

    brings: str
    told: str
    price: str


@dataclass(frozen=True, slots=True, kw_only=True)
class KitScreen:
    """All the Kit screen shows; where nothing fits, only verdict, sentence and the way out."""

    verdict: Verdict
    sentence: str
    budget: float
    horizon: float
    raise_to: float | None
    number: int = 0
    pictures: tuple[FrontierPicture, ...] = ()
    picks: tuple[Pick, ...] = ()
    packing: Packing | None = None
    reading: tuple[tuple[str, str, str], ...] = ()
    buys: tuple[tuple[str, str], ...] = ()
    whys: tuple[Why, ...] = ()
    findings: tuple[tuple[Verdict, str], ...] = ()
    beside: tuple[tuple[str, str, str], ...] = ()
    swaps: tuple[SwapTold, ...] = ()
    programs: tuple[Program, ...] = ()
    sessions_told: str = ""
    parts: tuple[PartInUse, ...] = ()
    in_use_total: str = ""
    in_use: Packing | None = None
    of_parts: str = ""
    order: tuple[OrderStep, ...] = ()
    order_now: tuple[OrderStep, ...] = ()
    own_hung: str = ""
    money_title: str = _("What money buys")


def kit_screen(song: Song, *, budget: float | None = None, number: int | None = None) -> KitScreen:
    """Return what the Kit screen shows for a song, with its own budget or another one tried out.

    Args:
        number: a kit of the frontier to look at; without it the recommended one within the budget.
    """
    tried = budget is not None
    as_it_stands = number is None and not tried
    budget = song.budget if budget is None else budget
    horizon = horizon_of(song)
    set_up = None if tried else in_use(song)
    now = {} if set_up is None else _as_set_up(song, set_up)
    try:
        frontier = as_worked_out(("frontier", song.pk), lambda: frontier_of_song(song))
    except NothingFits as error:
        return _nothing_fits(song, error, set_up, budget=budget, horizon=horizon, **now)
    within = places_within(song, frontier, budget)
    beside = fixed_cost(song, frontier)
    points = tuple((price + beside, clean, lead) for price, clean, lead in frontier.points)
    cheapest = points[-1][0]
    offered = within or [len(frontier.points) - 1]
    recommended = recommended_number(song, frontier, budget)
    number = recommended if number is None else min(max(number, 0), len(frontier.points) - 1)
    kit, swaps = as_worked_out(("kit", song.pk, number), lambda: _looked_at(song, frontier, number))
    story = given("money", money_story(points, max(budget, cheapest)))
    points = _as_looked_at(points, number, kit)
    planned = parts_planned(song)
    worst = planned[kit.worst].name if len(planned) > 1 else ""
    worth = kit.worth(frontier.needs)
    stands = None if set_up is None else _stands(song, set_up, kit, points[number][0])
    amiss, own = amiss_told(song, set_up=not tried), records_by_itself(song)
    told = sentence_of(kit, worth, clean_told(kit, worst), points[number][0], points, budget, stands, own=own)
    return KitScreen(
        verdict=kit_verdict_of(song) if as_it_stands else _verdict(frontier, kit, lacks=bool(amiss or not within)),
        sentence=f"{amiss} {told}".strip(),
        budget=budget,
        horizon=horizon,
        raise_to=None if within else cheapest,
        number=number,
        pictures=_pictures(points, number, min(budget, horizon), horizon, frontier),
        picks=_picks(frontier, points, offered, recommended, number),
        packing=packing_of(in_use(song, kit) if beside else kit, song),
        reading=_reading(kit, worst),
        buys=_buys(frontier, story, budget, kit),
        swaps=tuple(_swap_told(swap) for swap in swaps),
        programs=programs_of(song, frontier.needs),
        sessions_told=_sessions_told(song),
        beside=_beside(kit, kit_looked_at(song, frontier, recommended)) if number != recommended else (),
        findings=tuple((one.verdict, advice_on_kit(one)) for one in findings_of_kit(frontier.needs, kit)),
        whys=whys_of(frontier, kit, number == recommended),
        of_parts=_planned_told(song),
        order=order_of(kit.lines, budget, own),
        order_now=() if stands is None or stands.is_this_kit else order_of(stands.lines, budget, own),
        own_hung=own_hung_told(kit.hanging) if math.isfinite(kit.direct_to_reverberant_db) else "",
        money_title=_("More than is needed") if worth.is_enough else _("What money buys"),
        **now,
    )


def _stands(song: Song, set_up: KitInUse, kit: Kit | None = None, total: float = 0.0) -> Now:
    """Return how a song is set up, beside the kit that is looked at, if any."""
    part, worth = shortest_of(song)
    return Now(
        lines=set_up.lines,
        total=set_up.total,
        budget=song.budget,
        crowd=crowd_in(song),
        name=part.name if len(parts_of_song(song)) > 1 else "",
        worth=worth,
        is_this_kit=kit is not None and is_set_up_with(song, kit) and abs(set_up.total - total) < CENT,
    )


def _looked_at(song: Song, frontier: Frontier, number: int) -> tuple[Kit, tuple[Swap, ...]]:
    """Return a kit and its swaps: neither follows the money, so that a drag along the line asks for them once."""
    kit = kit_looked_at(song, frontier, number)
    return kit, swaps_of(frontier, number, kit)


def _nothing_fits(song: Song, error: NothingFits, set_up: KitInUse | None, **shown: Any) -> KitScreen:
    why = why_nothing_fits(error)
    if set_up is not None and not parts_to_plan(song):  # nothing is sought: each part has a chain of its own
        lacks = Verdict.CLEAR
        told = _("{now}. Beside it nothing complete fits: {why}.").format(now=_stands(song, set_up).told, why=why)
    else:
        lacks, told = Verdict.WATCH, _("Nothing complete fits: {why}.").format(why=why)
    return KitScreen(
        verdict=worst_of([kit_verdict_of(song), lacks]),
        sentence=told,
        raise_to=error.cheapest_total,
        sessions_told=_sessions_told(song),
        **shown,
    )


def _pictures(
    points: Points, number: int, budget: float, horizon: float, frontier: Frontier
) -> tuple[FrontierPicture, ...]:
    enough = frontier.needs.enough_figures
    return tuple(draw_frontier(points, number, budget, horizon, frame, enough) for frame in those_seen(WIDE, NARROW))


def _as_set_up(song: Song, kit: KitInUse) -> dict[str, Any]:
    return {"parts": parts_in_use(song), "in_use_total": money(kit.total), "in_use": packing_of(kit, song)}


def _planned_told(song: Song) -> str:
    """Name the parts the frontier is for."""
    planned, parts = parts_planned(song), parts_of_song(song)
    return "" if len(planned) == len(parts) else ", ".join(part.name for part in planned)


def _verdict(frontier: Frontier, kit: Kit, *, lacks: bool) -> Verdict:
    """Judge a kit that is looked at: for each part by what is dry enough for it, and by what it bears.

    Args:
        lacks: whether the money does not reach, or something does not go in as it was asked for.
    """
    verdicts = [Verdict.WATCH if lacks else Verdict.CLEAR]
    for part, found, lead_db in zip(frontier.needs.parts, kit.parts, kit.leads_db, strict=True):
        heard = found.levels.clean_range_db, lead_db, part.source.dry_enough_db
        verdicts.append(judge_kit(*heard, clean_enough_db=frontier.needs.enough.clean_range_db))
        verdicts.append(judge_overload(found.spare_db, part.band_db))
    return worst_of(verdicts)


def _as_looked_at(points: Points, number: int, kit: Kit) -> Points:
    """Put the kit looked at where it will be; the others are compared as the planner compares them."""
    here = points[number][0], kit.clean_range_db, kit.direct_to_reverberant_db
    return (*points[:number], here, *points[number + 1 :])


def _picks(frontier: Frontier, points: Points, offered: list[int], recommended: int, number: int) -> tuple[Pick, ...]:
    enough = _("Cheapest that is enough") if frontier.worth(recommended).is_enough else _("Nearest to enough")
    named = (
        (enough, recommended),
        (_("Best for the money there is"), strongest_of(points, offered)),
        (_("Best within reach"), strongest_of(points, range(len(points)))),
    )
    return tuple(
        Pick(
            title=title,
            number=place,
            total=money(points[place][0]),
            figures=figures_told(points[place]),
            chosen=place == number,
        )
        for title, place in named
    )


def _reading(kit: Kit, worst: str = "") -> tuple[tuple[str, str, str], ...]:
    """Return the kit's figures; of several parts each is the least, of worst the clean range."""
    lead, least = kit.direct_to_reverberant_db, ", least" if worst else ""
    miked = math.isfinite(lead)  # of what is plugged in no room is heard
    hung = ", hung" if kit.hanging.count and miked else ""
    clean = _("Clean range, {worst}").format(worst=worst) if worst else _("Clean range")
    rows = [(clean, figure(kit.clean_range_db), "dB")]
    if miked:
        rows.append((_("Over the room{least}{hung}").format(least=least, hung=hung), figure(lead), "dB"))
    rows.append((f"Headroom{least}", figure(kit.headroom_db), "dB"))
    if kit.round_trip_ms is not None:
        rows.append((_("Round trip"), figure(kit.round_trip_ms), "ms"))
    if hung:
        rows.append((_("Reverberation time, hung"), figure(kit.hanging.rt60_s, 2), "s"))
    return tuple(rows)


def _beside(kit: Kit, recommended: Kit) -> tuple[tuple[str, str, str], ...]:
    """Put two kits side by side: what each costs, does and holds."""
    ours, theirs = _traits(kit), _traits(recommended)
    return tuple((name, ours.get(name, "–"), theirs.get(name, "–")) for name in {**ours, **theirs})


def _traits(kit: Kit) -> dict[str, str]:
    traits = {"Total": money(kit.total)} | {name: f"{value} {unit}" for name, value, unit in _reading(kit)}
    microphones = {voice.microphone.name: None for voice in kit.voices if voice.microphone}
    traits["Microphones"] = ", ".join(microphones) or "–"
    traits["Interface"] = kit.hub.name if kit.hub else _("none: straight into the computer")
    pieces = kit.hanging.count
    traits["Hung"] = f"{pieces} piece{'s' if pieces > 1 else ''}" if pieces else "nothing"
    return traits


def _buys(frontier: Frontier, story: MoneyStory, budget: float, kit: Kit) -> tuple[tuple[str, str], ...]:
    rows = [
        (
            _("the next {amount}").format(amount=money(bought.amount)),
            _bought(bought.clean_db, bought.lead_db, _trip_change_ms(frontier, budget + bought.amount, kit)),
        )
        for bought in story.next_sums
    ]
    if math.isfinite(story.last_sum.clean_db) and budget >= story.last_sum.amount:
        rows.append(
            (
                _("the last {amount}").format(amount=money(story.last_sum.amount)),
                _bought(story.last_sum.clean_db, story.last_sum.lead_db),
            )
        )
    return tuple(rows)


def _trip_change_ms(frontier: Frontier, within: float, kit: Kit) -> float:
    """Return how the round trip changes to the kit that would be recommended with more money."""
    places = [place for place, point in enumerate(frontier.points) if point[0] <= within]
    if not places:
        return 0.0
    there = written(frontier, frontier.recommended(places)).round_trip_ms
    return 0.0 if there is None or kit.round_trip_ms is None else there - kit.round_trip_ms


def _swap_told(swap: Swap) -> SwapTold:
    trip, clean = swap.round_trip_change_ms, swap.clean_change_db
    effects = [_("{name} for {name_2}").format(name=swap.taken.name, name_2=swap.instead_of.name)]
    effects += (
        [_("{trip} ms round trip").format(trip=figure(trip, 1, sign=True))]
        if trip is not None and abs(trip) >= 0.5
        else []
    )
    effects += [_("{clean} dB clean range").format(clean=figure(clean, 1, sign=True))] if abs(clean) >= 0.1 else []
    return SwapTold(brings=TRAITS[swap.brings], told=", ".join(effects), price=f"+{money(swap.costs_more)}")


def _sessions_told(song: Song) -> str:
    """Name the parts recorded together, session by session."""
    sessions: dict[int, list[str]] = {}
    for part in sorted(parts_of_song(song), key=lambda part: part.session):
        sessions.setdefault(part.session, []).append(part.name)
    if all(len(names) == 1 for names in sessions.values()):
        return _("one part after the other")
    return "; ".join(_(" and ").join(names) for names in sessions.values())


def _bought(clean_db: float, lead_db: float, trip_ms: float = 0.0) -> str:
    told = []
    if clean_db >= 0.5:
        told.append(_("{clean_db} dB clean range").format(clean_db=figure(clean_db, sign=True)))
    if lead_db >= 0.5:
        told.append(_("{lead_db} dB over the room").format(lead_db=figure(lead_db, sign=True)))
    if trip_ms <= -1:
        told.append(_("{trip_ms} ms round trip").format(trip_ms=figure(trip_ms, sign=True)))
    return ", ".join(told) or _("nothing that is heard")
