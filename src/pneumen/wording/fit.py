"""How well the model fits, in words."""

from typing import Final

from pneumen.core.take import Fit
from pneumen.wording.figures import figure
from pneumen.wording.language import _

WITHIN: Final = _("{within} of {count} in the band that was told")
AS_TOLD: Final = _("on the mean as predicted")
ABOVE: Final = _("on the mean {db} dB above what was predicted")
BELOW: Final = _("on the mean {db} dB below what was predicted")
SPREAD: Final = _("with {db} dB of spread (standard deviation)")
ALIKE_DB: Final = 0.5


def fit_told(fit: Fit) -> str:
    """Say how well a figure was predicted."""
    mean = AS_TOLD if abs(fit.mean_db) < ALIKE_DB else ABOVE if fit.mean_db > 0 else BELOW
    told = f"{WITHIN.format(within=fit.within, count=fit.count)}, {mean.format(db=figure(abs(fit.mean_db), 1))}"
    return told + ("." if fit.spread_db is None else f", {SPREAD.format(db=figure(fit.spread_db, 1))}.")
