"""Which family of microphone: the families in a table for this part in its room, by what decides."""

from dataclasses import dataclass

from pneumen.core.forecast import outcome
from pneumen.core.gear import OWN_FAMILIES, MicrophoneFamily
from pneumen.core.kit import FamilyHere, assumed_interface, family_chain, family_here
from pneumen.core.verdict import Verdict
from pneumen.web.gain.why import Why
from pneumen.web.kit.needs import gear_of_song
from pneumen.web.part.models import Part
from pneumen.web.settle import settle_with
from pneumen.wording.families import AGAINST, ATTACKS, KEEPS, TONES, bears_told, phantom_told
from pneumen.wording.figures import figure, money
from pneumen.wording.language import _
from pneumen.wording.lengths import near


@dataclass(frozen=True, slots=True, kw_only=True)
class FamilyRow:
    """A family in words: cells stand in the order of HEADS."""

    label: str
    verdict: Verdict
    told: str
    cells: tuple[str, ...]


HEADS = (
    _("Attack"),
    _("Tone"),
    _("Output"),
    _("Stands at"),
    _("Over the room"),
    _("Clean range"),
    _("Hands and air"),
    _("48 V"),
    _("From"),
    _("Stays of use"),
)
WHYS = (
    Why(
        title=_("What a dearer preamp adds"),
        lines=(
            _(
                "Above the budget class preamps differ less in noise than in colour: a little "
                "saturation, a transformer, "
                "another top end. That is taste; no figure here measures it, and no kit is recommended for it."
            ),
            _("What does show here: the gain it reaches, and its noise with a weak dynamic or ribbon."),
        ),
        source=_("common practice, no source"),
    ),
    Why(
        title=_("How the table is made"),
        lines=(
            _(
                "The usual member of each family, as data sheets have it, stands where it would do "
                "best for this part in "
                "this room, behind an interface with a bare knob; its figures are those of every other page."
            ),
            _("Attack, tone and hardness are a family’s; single models differ: the catalogue tells."),
        ),
        source=_("families: common practice, no source; figures: computed"),
    ),
)


def families_told(part: Part) -> tuple[FamilyRow, ...]:
    """Return the table for a miked part, those with the least against them first."""
    catalogue = gear_of_song(part.song)[1]
    found = []
    for slug in OWN_FAMILIES:
        setup = settle_with(part, family_chain(slug, assumed_interface()))
        found.append(family_here(slug, outcome(setup), catalogue))
    found.sort(key=lambda one: (one.verdict.gravity, len(one.against)))
    return tuple(_row(one) for one in found)


def _row(one: FamilyHere) -> FamilyRow:
    found, traits = one.found, one.traits
    against = "; ".join(AGAINST[kind] for kind in one.against)
    return FamilyRow(
        label=one.family.label,
        verdict=one.verdict,
        told=f"{against[0].upper()}{against[1:]}." if against else _("Nothing speaks against it."),
        cells=(
            ATTACKS[traits.attack],
            TONES[traits.tone],
            _output(one.family, found.gain_db),
            near(found.setup.placement.distance_m),
            f"{figure(found.in_air.lead_db)} dB",
            f"{figure(found.levels.clean_range_db)} dB",
            bears_told(traits.sturdy, pops_easily=traits.pops_easily),
            phantom_told(one.family),
            "–" if one.cheapest is None else money(one.cheapest),
            KEEPS[traits.keeps],
        ),
    )


def _output(family: MicrophoneFamily, gain_db: float) -> str:
    if family.sensitivity_mv_per_pa is None:
        return _("its own converter")
    return _("{sensitivity_mv_per_pa:g} mV/Pa, {gain_db} dB of gain here").format(
        sensitivity_mv_per_pa=family.sensitivity_mv_per_pa, gain_db=figure(gain_db)
    )
