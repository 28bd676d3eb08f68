"""What a blind trial shows: letters before the choice, spots and their differences after it."""

from dataclasses import dataclass
from string import ascii_uppercase

from pneumen.core.errors import given
from pneumen.web.place.models import Trial, TrialSpot
from pneumen.wording.figures import figure
from pneumen.wording.lengths import near


@dataclass(frozen=True, slots=True, kw_only=True)
class Heard:
    """One phrase under its letter; label and figures stay empty until the choice."""

    number: int
    letter: str
    chosen: bool
    label: str
    distance: str
    figures: tuple[tuple[str, str], ...]


COLUMNS = ("Level", "Bass", "Treble", "Gaps", "Noise")


def heard_of_trial(trial: Trial) -> tuple[Heard, ...]:
    """Return the phrases in the order they are heard in."""
    spots = sorted(trial.spots.all(), key=lambda spot: spot.heard_at)
    best = next((spot for spot in spots if spot.pk == trial.chosen_id), None)
    return tuple(_heard(spot, best) for spot in spots)


def _heard(spot: TrialSpot, chosen: TrialSpot | None) -> Heard:
    return Heard(
        number=spot.heard_at,
        letter=ascii_uppercase[spot.heard_at],
        chosen=chosen is not None and spot.pk == chosen.pk,
        label=spot.label if chosen else "",
        distance=near(spot.distance_m) if chosen else "",
        figures=tuple(zip(COLUMNS, _figures(spot, chosen), strict=True)) if chosen else (),
    )


def _figures(spot: TrialSpot, chosen: TrialSpot) -> tuple[str, ...]:
    """Differences against the chosen spot in dB: level as recorded, the rest at one loudness."""

    def against(name: str, matched: float = 0.0) -> str:
        here, there = (given("measurement", one.measured)[name] for one in (spot, chosen))
        if here is None or there is None:
            return figure(None)
        return figure(here - there + matched, 1, sign=True) if spot.pk != chosen.pk else "0"

    return (
        against("level_dbfs"),
        against("bass_db"),
        against("treble_db"),
        against("gaps_db"),
        against("floor_dbfs_a", spot.matched_db - chosen.matched_db),
    )
