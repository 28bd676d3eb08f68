"""What a setup will do: the one result every screen, sheet and command reads."""

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Final

import numpy as np

from pneumen.core.errors import given
from pneumen.core.forecast.hearing import critical_distance_of, heard_of_room, line_of
from pneumen.core.forecast.recommend import distance_range, ladder_with
from pneumen.core.forecast.setup import PartSetup
from pneumen.core.gain import SCHOOLS, GainVerdict, judge
from pneumen.core.levels import band_of_sum_db
from pneumen.core.line import Levels, levels_of
from pneumen.core.place import Ladder, LowCut, at_distance, judge_place, low_cut_of
from pneumen.core.room import judge_noise, judge_room
from pneumen.core.verdict import Verdict, worst_of

LADDER_STEPS: Final = 72


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Air:
    """What is decided between the source and the microphone.

    lead_db is the direct sound over the room's, weighted for speech; critical_distance_m is by statistics, None where
    there is no decay, as is rt60_s. felt holds each strip's value where the microphone stands, ladder along the way.
    """

    lead_db: float
    lead_by_band_db: tuple[float, ...]
    noise_dba: float
    rt60_s: float | None
    critical_distance_m: float | None
    felt: dict[str, float]
    ladder: Ladder
    low_cut: LowCut

    @property
    def calm_m(self) -> tuple[float, float] | None:
        """The distances at which nothing is felt."""
        return self.ladder.calm_m


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Outcome:
    """Everything that is said of a part in its setup. air is None for what is plugged in; bands are plus or minus."""

    setup: PartSetup
    levels: Levels
    signal_band_db: float
    noise_band_db: float
    gain_band_db: float
    distance_band_db: float
    sheet_band_db: float
    air: Air | None
    gain_verdict: GainVerdict
    place_verdict: Verdict
    room_verdict: Verdict

    @property
    def clean_range_band_db(self) -> float:
        return band_of_sum_db(self.signal_band_db, self.noise_band_db)

    @property
    def gain_db(self) -> float:
        return self.setup.gain_db

    @property
    def distance_m(self) -> float | None:
        return None if self.air is None else self.setup.placement.distance_m

    @property
    def in_air(self) -> Air:
        """What is decided between source and microphone, of what is miked.

        Raises:
            Contradiction: for what is plugged in.
        """
        return given("air", self.air)


@lru_cache(maxsize=256)
def outcome(setup: PartSetup) -> Outcome:
    """Return what a setup will do."""
    low, high = setup.chain.gain_range_db
    setup = replace(setup, gain_db=min(max(setup.gain_db, low), high))
    # Another gain or target changes nothing between source and microphone.
    air = None if setup.is_plugged else _air(replace(setup, gain_db=low, school=SCHOOLS[0], planned=frozenset()))
    levels = levels_of(line_of(setup))
    # The room's doubt counts by the room's share of the noise; the rest is as sure as the sheets.
    stages = levels.noise_by_stage_dbfs
    room_share = 10 ** ((stages["room"] - levels.noise_dbfs) / 10) if "room" in stages else 0.0
    return Outcome(
        setup=setup,
        levels=levels,
        signal_band_db=setup.signal_band_db,
        noise_band_db=band_of_sum_db(room_share * setup.space.noise_band_db, setup.sheet_band_db, setup.gain_band_db),
        gain_band_db=setup.gain_band_db,
        distance_band_db=setup.distance_band_db,
        sheet_band_db=setup.sheet_band_db,
        air=air,
        gain_verdict=judge(levels, setup.school, aim_dbfs=setup.aim_dbfs, spare_db=setup.spare_db(levels)),
        place_verdict=_place_verdict(setup, air),
        room_verdict=_room_verdict(setup, air),
    )


@lru_cache(maxsize=256)
def _air(setup: PartSetup) -> Air:
    heard = heard_of_room(setup)
    near, far = distance_range(setup)
    distance_m = setup.placement.distance_m
    ladder = ladder_with(setup, tuple(np.geomspace(near, far, LADDER_STEPS).tolist()), distance_m)
    return Air(
        lead_db=heard.lead_db,
        lead_by_band_db=heard.lead_by_band_db,
        noise_dba=heard.noise_dba,
        rt60_s=setup.space.rt60_s,
        critical_distance_m=critical_distance_of(setup),
        felt=at_distance(ladder, distance_m),
        ladder=ladder,
        low_cut=low_cut_of(setup.source, setup.placement.low_cut_hz),
    )


def _room_verdict(setup: PartSetup, air: Air | None) -> Verdict:
    if air is None:
        return Verdict.CLEAR
    floor = Verdict.CLEAR if setup.fits_its_room else Verdict.WATCH
    return worst_of([judge_room(air.lead_db, setup.source.dry_enough_db), judge_noise(air.noise_dba), floor])


def _place_verdict(setup: PartSetup, air: Air | None) -> Verdict:
    if air is None:
        return Verdict.CLEAR
    return judge_place(air.ladder, setup.placement.distance_m, air.low_cut, dry_enough_db=setup.source.dry_enough_db)
