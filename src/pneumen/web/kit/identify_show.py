"""What an unknown microphone may be, in words: the looks, the odds, and 48 V."""

from collections.abc import Mapping
from dataclasses import dataclass

from pneumen.core.gear import LOOKS, Identified
from pneumen.wording.identify import ANSWERS, KINDS, PHANTOM
from pneumen.wording.identify import LOOKS as LOOK_WORDS

LEAST_SHOWN = 0.005


@dataclass(frozen=True, slots=True, kw_only=True)
class Asked:
    """One look: its answers as (slug, words, whether it was given), and whether it would tell most now."""

    slug: str
    label: str
    answers: tuple[tuple[str, str, bool], ...]
    tells_most: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class IdentifyScreen:
    looks: tuple[Asked, ...]
    odds: tuple[tuple[str, int], ...]
    phantom: str
    stays_off: bool


def identified_told(given: Mapping[str, str], found: Identified) -> IdentifyScreen:
    """Return what the page shows of some answers."""
    return IdentifyScreen(
        looks=tuple(
            Asked(
                slug=look.slug,
                label=LOOK_WORDS[look.slug],
                answers=tuple((one, ANSWERS[look.slug][one], given.get(look.slug) == one) for one in look.answers),
                tells_most=look.slug == found.next_look,
            )
            for look in LOOKS
        ),
        odds=tuple((KINDS[kind], round(100 * share)) for kind, share in found.odds if share >= LEAST_SHOWN),
        phantom=PHANTOM[found.phantom],
        stays_off=found.phantom != "printed",
    )
