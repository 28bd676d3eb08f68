"""The figures of a take that were predicted and are measured: one list for its own page and for the look back."""

from dataclasses import dataclass
from typing import Final

from pneumen.core.setup import PlugLevels
from pneumen.core.take import Reading
from pneumen.web.take.models import Take
from pneumen.wording.language import _

LEAST_BAND_DB: Final = 0.5
"""No prediction is surer than that."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ToldFigure:
    """One figure: its name and unit, where it stands in a snapshot's prediction and in a measurement."""

    name: str
    unit: str
    key: str
    band_key: str
    group: str
    measured_key: str
    follows_gain: bool = True

    def predicted_db(self, take: Take) -> float:
        """Return what was predicted at the gain the take was really recorded with."""
        turned_db = take.gain_db - take.snapshot["gain_db"] if self.follows_gain else 0.0
        return float(take.snapshot["prediction"][self.key]) + turned_db

    def band_db(self, take: Take) -> float:
        return max(float(take.snapshot["prediction"][self.band_key]), LEAST_BAND_DB)

    def measured_db(self, take: Take) -> float | None:
        """Return what was measured; None where it could not be."""
        found = (take.measurement or {}).get(self.group, {}).get(self.measured_key)
        return None if found is None else float(found)

    def reading_of(self, take: Take) -> Reading | None:
        measured_db = self.measured_db(take)
        if measured_db is None:
            return None
        return Reading(
            number=take.number,
            predicted_db=self.predicted_db(take),
            band_db=self.band_db(take),
            measured_db=measured_db,
        )


FIGURES: Final = (
    ToldFigure(
        name=_("Highest peak"),
        unit="dBFS",
        key="peak_dbfs",
        band_key="signal_band_db",
        group="level",
        measured_key="sample_peak_dbfs",
    ),
    ToldFigure(
        name=_("Typical (active RMS)"),
        unit="dBFS",
        key="typical_dbfs",
        band_key="signal_band_db",
        group="level",
        measured_key="active_rms_dbfs",
    ),
    ToldFigure(
        name=_("Noise (A)"),
        unit="dBFS",
        key="noise_dbfs",
        band_key="noise_band_db",
        group="noise",
        measured_key="floor_dbfs_a",
    ),
    ToldFigure(
        name=_("Clean range"),
        unit="dB",
        key="clean_range_db",
        band_key="clean_range_band_db",
        group="noise",
        measured_key="clean_range_db",
        follows_gain=False,
    ),
)


def typical_db(take: Take) -> float | None:
    """Return how loud the performer was (dB SPL at 1 m, or dBu at the plug); None where the take does not tell."""
    correction = take.core_correction()
    if correction is None:
        return None
    source = correction.source
    return source.typical_dbu if isinstance(source, PlugLevels) else source.typical_db_spl
