"""The gain control as a field and as a handle in the picture."""

from dataclasses import dataclass

from pneumen.core.forecast import Outcome
from pneumen.core.gain import gain_window_db
from pneumen.core.setup import Chain
from pneumen.web.gain.marks import Frame, Handle
from pneumen.web.gain.picture import gain_handle
from pneumen.wording.controls import DIAL, DIAL_TO, ENDS, LABELS, UNITS, stands_at, turned
from pneumen.wording.figures import figure
from pneumen.wording.knob import clock_told
from pneumen.wording.language import _


@dataclass(frozen=True, slots=True, kw_only=True)
class Knob:
    """The gain control as a field: its range in the field's units, where the target window lies on it, how it reads.

    field is the form's for such a control: gain (dB), turn (per cent) or dial (of 10).
    """

    marking: str
    field: str
    label: str
    minimum: float
    maximum: float
    step: float
    value: float
    low_label: str
    high_label: str
    window_left: float
    window_width: float
    window_label: str
    share: float
    turned: str
    unit: str
    spoken: str


def setting_told(chain: Chain, gain_db: float) -> str:
    """Say what a control is set to for a gain, in its own marks."""
    if chain.gain_marking == "bare":
        share = chain.knob.share_at(gain_db)
        return clock_told(share) if chain.taper else stands_at(share, chain.control)
    return f"{figure(gain_db)} dB"


def knob_of(before: Outcome) -> Knob:
    chain, gain_db = before.setup.chain, before.gain_db
    low, high = chain.gain_range_db
    window = [min(max(edge, low), high) for edge in gain_window_db(before.levels, gain_db, before.setup.school)]
    left, right = (100 * chain.knob.share_at(edge) for edge in window)
    share, bare = chain.knob.share_at(gain_db), chain.gain_marking == "bare"
    whole = _whole_turn(chain)
    return Knob(
        marking=chain.gain_marking,
        field=_field(chain),
        label=LABELS[chain.control] if bare else _("Preamp gain"),
        minimum=0 if bare else low,
        maximum=whole if bare else high,
        step=whole / 100 if bare else 1,
        value=round(whole * share if bare else gain_db, 1),
        low_label=ENDS[chain.control][0] if bare else f"{figure(low)} dB",
        high_label=ENDS[chain.control][1] if bare else f"{figure(high)} dB",
        window_left=left,
        window_width=right - left,
        window_label=_window_told(chain, window) if window[1] > window[0] else _("window out of reach"),
        share=100 * share,
        turned=turned(share, chain.control)[0],
        unit=UNITS[chain.control],
        spoken=_spoken(chain, gain_db),
    )


def _field(chain: Chain) -> str:
    if chain.gain_marking != "bare":
        return "gain"
    return "dial" if chain.control == DIAL else "turn"


def _whole_turn(chain: Chain) -> float:
    """Return a whole turn in the units of the field: a dial's numbers, else per cent."""
    return DIAL_TO if chain.control == DIAL else 100


def _window_told(chain: Chain, window: list[float]) -> str:
    if chain.gain_marking != "bare":
        return _("window {window} to {window_2} dB").format(window=figure(window[0]), window_2=figure(window[1]))
    shares = [chain.knob.share_at(edge) for edge in window]
    if chain.taper:
        return _("window {shares} to {shares_2}").format(shares=clock_told(shares[0]), shares_2=clock_told(shares[1]))
    return _("window about {shares} to {shares_2}").format(
        shares=turned(shares[0], chain.control)[0], shares_2=" ".join(turned(shares[1], chain.control))
    )


def _spoken(chain: Chain, gain_db: float) -> str:
    if chain.gain_marking == "bare":
        return stands_at(chain.knob.share_at(gain_db), chain.control)
    return f"{figure(gain_db)} dB"


def gain_handle_of(frame: Frame, before: Outcome) -> Handle:
    """The gain's handle in the units of its field: dB, per cent of a knob's turn, or a dial's numbers."""
    chain, gain_db = before.setup.chain, before.gain_db
    low, high = chain.gain_range_db
    spoken = _spoken(chain, gain_db)
    if chain.gain_marking == "db":
        return gain_handle(frame, before, (low, high), gain_db, units_per_db=1, spoken=spoken)
    whole = _whole_turn(chain)
    now = whole * chain.knob.share_at(gain_db)
    return gain_handle(frame, before, (0, whole), now, units_per_db=whole / ((high - low) or 1), spoken=spoken)
