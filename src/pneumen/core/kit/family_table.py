"""Which family of microphone for this source in this room: the families by what decides, and a verdict for each."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Any, Final

from pneumen.core.forecast import Outcome
from pneumen.core.gain import GOOD_CLEAN_RANGE_DB, POOR_CLEAN_RANGE_DB
from pneumen.core.gear import OWN_FAMILIES, RECORDER, MicrophoneFamily
from pneumen.core.kit.catalogue import STURDY_GROUPS, chain_of
from pneumen.core.kit.item import Item
from pneumen.core.part import Source
from pneumen.core.room import judge_room
from pneumen.core.setup import Chain
from pneumen.core.verdict import Verdict, worst_of


@dataclass(frozen=True, slots=True, kw_only=True)
class FamilyTraits:
    """What no figure tells of a family: its attack, its tone, how it bears hands and air, and for whom it stays.

    sturdy is 1 to 5; keeps tells what it goes on being of use with: any interface, one computer, or by itself.
    """

    attack: str
    tone: str
    sturdy: int
    pops_easily: bool
    keeps: str


FAMILY_TRAITS: Final[Mapping[str, FamilyTraits]] = MappingProxyType(
    {
        "large-condenser": FamilyTraits(
            attack="fast", tone="bright", sturdy=3, pops_easily=True, keeps="any-interface"
        ),
        "small-condenser": FamilyTraits(
            attack="fastest", tone="bright", sturdy=3, pops_easily=True, keeps="any-interface"
        ),
        "dynamic": FamilyTraits(attack="slow", tone="neutral", sturdy=5, pops_easily=False, keeps="any-interface"),
        "ribbon": FamilyTraits(attack="rounded", tone="dark", sturdy=1, pops_easily=True, keeps="any-interface"),
        "active-ribbon": FamilyTraits(attack="rounded", tone="dark", sturdy=2, pops_easily=True, keeps="any-interface"),
        "usb-condenser": FamilyTraits(attack="fast", tone="bright", sturdy=3, pops_easily=True, keeps="computer"),
        "usb-dynamic": FamilyTraits(attack="slow", tone="dark", sturdy=5, pops_easily=False, keeps="computer"),
        "recorder": FamilyTraits(attack="fast", tone="bright", sturdy=3, pops_easily=True, keeps="itself"),
    }
)
"""Common practice of the trade, no source; single models differ."""


@dataclass(frozen=True, slots=True, kw_only=True)
class FamilyHere:
    """A family for one source in its room: what its usual member does there, what speaks against it, what it costs.

    against holds the kinds of what speaks against it, the gravest first; cheapest is of the catalogue, None where it
    has none.
    """

    slug: str
    family: MicrophoneFamily
    traits: FamilyTraits
    found: Outcome
    cheapest: float | None
    verdict: Verdict
    against: tuple[str, ...]


def family_chain(slug: str, interface: Item) -> Chain:
    """Return a chain with the usual member of a family, behind an interface where it needs one."""
    family = OWN_FAMILIES[slug]
    told: dict[str, Any] = {"id": f"family-{slug}", "name": family.label, "price": 0.0}
    if slug == RECORDER:
        item = Item(
            kind="recorder",
            full_scale_db_spl=family.full_scale_db_spl,
            self_noise_dba=family.self_noise_dba,
            **told,
        )
        return chain_of(item, None)
    item = Item(kind="microphone", family=slug, **told)
    return chain_of(item, interface if family.plug == "xlr" else None)


def family_here(slug: str, found: Outcome, catalogue: Iterable[Item]) -> FamilyHere:
    """Judge a family by the outcome of its chain, set up for the part."""
    source, traits = found.setup.source, FAMILY_TRAITS[slug]
    faults = sorted(_faults(source, traits, found), key=lambda fault: -fault[1].gravity)
    kind = "recorder" if slug == RECORDER else "microphone"
    prices = [item.price for item in catalogue if item.kind == kind and slug in (RECORDER, item.family)]
    return FamilyHere(
        slug=slug,
        family=OWN_FAMILIES[slug],
        traits=traits,
        found=found,
        cheapest=min(prices, default=None),
        verdict=worst_of([verdict for _, verdict in faults]),
        against=tuple(kind for kind, _ in faults),
    )


def _faults(source: Source, traits: FamilyTraits, found: Outcome) -> Iterable[tuple[str, Verdict]]:
    """Yield what speaks against a family here: (kind, how grave)."""
    levels, setup = found.levels, found.setup
    if levels.headroom_db < setup.microphone_band_db and levels.clips_first == "microphone":
        yield "overload", Verdict.BAKED_IN if levels.headroom_db < 0 else Verdict.WATCH
    if levels.clean_range_db < GOOD_CLEAN_RANGE_DB:
        yield "noise", Verdict.MENDABLE if levels.clean_range_db < POOR_CLEAN_RANGE_DB else Verdict.WATCH
    if (room := judge_room(found.in_air.lead_db, source.dry_enough_db)) is not Verdict.CLEAR:
        yield "room", room
    if levels.peak_dbfs < min(setup.school.low_dbfs, setup.aim_dbfs) - LOW_DB:
        yield "low", Verdict.WATCH
    if traits.tone == "bright" and source.harsh:
        yield "harsh", Verdict.WATCH
    if traits.attack in ("slow", "rounded") and source.transient == "fast":
        yield "attack", Verdict.WATCH
    if traits.pops_easily and source.pops and setup.placement.off_mouth_deg < 1 and not setup.placement.pop_screen:
        yield "pops", Verdict.WATCH
    if traits.sturdy <= 2 and source.group in STURDY_GROUPS:
        yield "fragile", Verdict.WATCH


LOW_DB: Final = 3.0
"""A peak so far under its aim, with the control at its stop, is told."""
