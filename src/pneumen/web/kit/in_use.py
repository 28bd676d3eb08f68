"""Every part of a song as it is set up, and which of them set the song’s figures."""

from dataclasses import dataclass

from pneumen.core.forecast import Outcome, judge_chain
from pneumen.core.kit import Enough, Worth, worth_as_set_up
from pneumen.core.verdict import Verdict, worst_of
from pneumen.web.figures import Figures, figures_of
from pneumen.web.kept_rows import as_worked_out
from pneumen.web.kit.needs import parts_of_song
from pneumen.web.kit.services import supply_verdict
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of
from pneumen.web.song.models import Song
from pneumen.wording.figures import figure
from pneumen.wording.language import _


@dataclass(frozen=True, slots=True, kw_only=True)
class PartInUse:
    """One part as it is set up now: its gear, its figures, and whether it is the one that sets the song's."""

    name: str
    part_id: int
    gear: str
    figures: Figures
    clean: str
    lead: str
    headroom: str
    noise_set_by: str
    verdict: Verdict
    sets: str


def kit_verdict_of(song: Song) -> Verdict:
    """Return how the kit of a song stands as it is set up: the worst of its parts, and of what it lacks as a whole.

    It is what the thread says of Kit on every page, and Kit of itself.
    """
    return as_worked_out(("kit-verdict", song.pk), lambda: _kit_verdict(song))


def _kit_verdict(song: Song) -> Verdict:
    parts = [_verdict(song, outcome_of(part)) for part in parts_of_song(song)]
    return worst_of([*parts, supply_verdict(song)])


def _verdict(song: Song, outcome: Outcome) -> Verdict:
    return judge_chain(outcome, clean_enough_db=song.enough_clean_db)


def shortest_of(song: Song) -> tuple[Part, Worth]:
    """Return the part that falls most short of what is enough as the song is set up, and how far."""
    enough = Enough(clean_range_db=song.enough_clean_db)
    found = [(part, worth_as_set_up(enough, outcome_of(part))) for part in parts_of_song(song)]
    return max(found, key=lambda one: one[1].short_db)


def parts_in_use(song: Song) -> tuple[PartInUse, ...]:
    """Return every part of a song as it is set up; the song's figures are its worst part's."""
    found = [(part, outcome_of(part)) for part in parts_of_song(song)]
    worst_clean = min(found, key=lambda one: one[1].levels.clean_range_db)[0]
    miked = [one for one in found if one[1].air]
    worst_lead = min(miked, key=lambda one: one[1].in_air.lead_db)[0] if miked else None
    return tuple(
        _in_use(part, outcome, _verdict(song, outcome), part is worst_clean, part is worst_lead)
        for part, outcome in found
    )


def _in_use(part: Part, outcome: Outcome, verdict: Verdict, sets_clean: bool, sets_lead: bool) -> PartInUse:
    sets = [word for word, holds in ((_("clean range"), sets_clean), (_("room sound"), sets_lead)) if holds]
    return PartInUse(
        name=part.name,
        part_id=part.pk,
        gear=", ".join(item.name for item in part.devices),
        figures=figures_of(part.pk, outcome),
        clean=figure(outcome.levels.clean_range_db),
        lead=figure(outcome.air.lead_db) if outcome.air else _("plugged in"),
        headroom=figure(outcome.levels.headroom_db),
        noise_set_by=outcome.levels.noise_set_by,
        verdict=verdict,
        sets=_("sets the song’s {sets}").format(sets=_(" and ").join(sets)) if sets else "",
    )
