"""Every part of a song as it is set up, and which of them set the song’s figures."""

from dataclasses import dataclass

from pneumen.core.forecast import Outcome
from pneumen.core.verdict import Verdict
from pneumen.web.figures import Figures, figures_of
from pneumen.web.kit.needs import parts_of_song
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


def parts_in_use(song: Song) -> tuple[PartInUse, ...]:
    """Return every part of a song as it is set up; the song's figures are its worst part's."""
    found = [(part, outcome_of(part)) for part in parts_of_song(song)]
    worst_clean = min(found, key=lambda one: one[1].levels.clean_range_db)[0]
    miked = [one for one in found if one[1].air]
    worst_lead = min(miked, key=lambda one: one[1].in_air.lead_db)[0] if miked else None
    return tuple(_in_use(part, outcome, part is worst_clean, part is worst_lead) for part, outcome in found)


def _in_use(part: Part, outcome: Outcome, sets_clean: bool, sets_lead: bool) -> PartInUse:
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
        verdict=outcome.kit_verdict,
        sets=_("sets the song’s {sets}").format(sets=_(" and ").join(sets)) if sets else "",
    )
