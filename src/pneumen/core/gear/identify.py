"""What is this microphone? Up to five looks at it narrow it to families with odds; 48 V waits for what is certain.

Families cannot be told apart by looks. So odds are told, and phantom power stays off until something settles the
matter: the model is known, 48 V is printed on it, or it brings its own supply. Odds never release it.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Final

from pneumen.core.errors import UnknownName

KINDS: Final[Mapping[str, float]] = MappingProxyType(
    {
        "dynamic": 0.38,
        "large-condenser": 0.2,
        "small-condenser": 0.13,
        "battery-condenser": 0.06,
        "valve-condenser": 0.01,
        "ribbon": 0.02,
        "active-ribbon": 0.01,
        "usb-condenser": 0.14,
        "usb-dynamic": 0.05,
    }
)
"""How often each is met at home (estimates; they add up to 1)."""
_XLR: Final = ("dynamic", "large-condenser", "small-condenser", "battery-condenser", "ribbon", "active-ribbon")

_POWERED: Final = ("large-condenser", "small-condenser", "battery-condenser", "active-ribbon")


@dataclass(frozen=True, slots=True, kw_only=True)
class Look:
    """One thing to look at: its answers, each with how likely a kind shows it; a kind that is not told gets usual."""

    slug: str
    answers: Mapping[str, Mapping[str, float]]
    usual: float = 0.05


LOOKS: Final = (
    Look(
        slug="plug",
        answers={
            "xlr": dict.fromkeys(_XLR, 0.93) | {"valve-condenser": 0.05, "usb-condenser": 0.02, "usb-dynamic": 0.2},
            "usb": {"usb-condenser": 0.98, "usb-dynamic": 0.8} | dict.fromkeys((*_XLR, "valve-condenser"), 0.001),
            "many-pins": {"valve-condenser": 0.9} | dict.fromkeys((*_XLR, "usb-condenser", "usb-dynamic"), 0.002),
            "jack": {"dynamic": 0.07, "battery-condenser": 0.3},
        },
        usual=0.01,
    ),
    Look(
        slug="opening",
        answers={
            "side": {
                "large-condenser": 0.95,
                "valve-condenser": 0.95,
                "ribbon": 0.95,
                "active-ribbon": 0.95,
                "usb-condenser": 0.85,
                "dynamic": 0.04,
                "small-condenser": 0.02,
                "battery-condenser": 0.1,
                "usb-dynamic": 0.1,
            },
            "end": {"dynamic": 0.95, "usb-dynamic": 0.88, "battery-condenser": 0.4, "small-condenser": 0.13},
            "slots": {"small-condenser": 0.85, "battery-condenser": 0.5, "usb-condenser": 0.05, "dynamic": 0.01},
        },
    ),
    Look(
        slug="power",
        answers={
            "battery": {"battery-condenser": 0.97} | dict.fromkeys(("dynamic", "ribbon", "active-ribbon"), 0.001),
            "own-supply": {"valve-condenser": 0.95} | dict.fromkeys((*_XLR, "usb-condenser", "usb-dynamic"), 0.001),
            "none": dict.fromkeys(KINDS, 0.95) | {"battery-condenser": 0.03, "valve-condenser": 0.04},
        },
        usual=0.01,
    ),
    Look(
        slug="weight",
        answers={
            "light": {"small-condenser": 0.7, "battery-condenser": 0.8, "dynamic": 0.2, "usb-condenser": 0.3},
            "middle": {"dynamic": 0.65, "small-condenser": 0.28, "large-condenser": 0.45, "usb-condenser": 0.45}
            | {"usb-dynamic": 0.4, "ribbon": 0.3, "active-ribbon": 0.3, "battery-condenser": 0.19},
            "heavy": {"large-condenser": 0.5, "valve-condenser": 0.9, "ribbon": 0.68, "active-ribbon": 0.68}
            | {"usb-dynamic": 0.55, "dynamic": 0.15, "usb-condenser": 0.25},
        },
        usual=0.02,
    ),
    Look(
        slug="printed",
        answers={
            "48v": {"large-condenser": 0.35, "small-condenser": 0.35, "active-ribbon": 0.4, "battery-condenser": 0.1}
            | dict.fromkeys(("dynamic", "ribbon", "usb-condenser", "usb-dynamic", "valve-condenser"), 0.0005),
            "no-48v": {"ribbon": 0.3, "dynamic": 0.005, "valve-condenser": 0.02} | dict.fromkeys(_POWERED, 0.0005),
            "condenser": {"large-condenser": 0.3, "small-condenser": 0.3, "battery-condenser": 0.4}
            | {"usb-condenser": 0.4, "valve-condenser": 0.3, "active-ribbon": 0.001, "dynamic": 0.0005},
            "dynamic": {"dynamic": 0.35, "usb-dynamic": 0.3} | dict.fromkeys(("large-condenser", "ribbon"), 0.0005),
            "ribbon": {"ribbon": 0.5, "active-ribbon": 0.5} | dict.fromkeys(("dynamic", "large-condenser"), 0.0005),
            "nothing": {
                "dynamic": 0.64,
                "large-condenser": 0.34,
                "small-condenser": 0.34,
                "battery-condenser": 0.49,
                "ribbon": 0.19,
                "active-ribbon": 0.09,
                "usb-condenser": 0.59,
                "usb-dynamic": 0.69,
                "valve-condenser": 0.69,
            },
        },
        usual=0.001,
    ),
)
"""What to look at, and how often each kind shows it (estimates of what is met, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Identified:
    """What a microphone may be, the likeliest first, and what to do about 48 V.

    phantom is "off" (until it is known), "never" (USB, own supply, another plug, a warning on it) or "printed" (it
    says that it takes 48 V: that is certain). next_look is what would narrow it most, "" where all is told.
    """

    odds: tuple[tuple[str, float], ...]
    phantom: str
    next_look: str


def identify(answers: Mapping[str, str]) -> Identified:
    """Return what a microphone may be by what one sees of it.

    Args:
        answers: of LOOKS, by slug; what is not known is left out.

    Raises:
        UnknownName: for a look or an answer there is not.

    Reference: Bayes' rule, the looks taken as independent of each other.

    >>> identify({"plug": "usb", "opening": "side"}).odds[0][0]
    'usb-condenser'
    """
    looks = {look.slug: look for look in LOOKS}
    odds = dict(KINDS)
    for slug, answer in answers.items():
        if slug not in looks:
            raise UnknownName("look", slug, tuple(looks))
        odds = _after(odds, looks[slug], answer)
    ranked = tuple(sorted(odds.items(), key=lambda one: -one[1]))
    return Identified(odds=ranked, phantom=_phantom(answers), next_look=_most_telling(odds, answers))


def _after(odds: Mapping[str, float], look: Look, answer: str) -> dict[str, float]:
    if answer not in look.answers:
        raise UnknownName(look.slug, answer, tuple(look.answers))
    likely = {kind: share * look.answers[answer].get(kind, look.usual) for kind, share in odds.items()}
    whole = sum(likely.values())
    return {kind: share / whole for kind, share in likely.items()}


def _phantom(answers: Mapping[str, str]) -> str:
    """Return the rule: only what is certain counts, never the odds."""
    cannot = answers.get("plug") in ("usb", "many-pins", "jack") or answers.get("power") == "own-supply"
    if cannot or answers.get("printed") == "no-48v":
        return "never"
    return "printed" if answers.get("printed") == "48v" else "off"


def _most_telling(odds: Mapping[str, float], answers: Mapping[str, str]) -> str:
    """Return the look not yet taken after which the likeliest kind is surest on the average."""
    best, surest = "", 0.0
    for look in LOOKS:
        if look.slug in answers:
            continue
        # The sum of the likeliest kind's joint shares over the answers: its expected odds after the look.
        expected = sum(
            max(share * shown.get(kind, look.usual) for kind, share in odds.items()) for shown in look.answers.values()
        )
        if expected > surest + 1e-12:
            best, surest = look.slug, expected
    return best
