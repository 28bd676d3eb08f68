"""The gain control as a field and as a handle in the picture."""

from dataclasses import dataclass

from pneumen.core.forecast import Outcome
from pneumen.core.gain import gain_window_db
from pneumen.core.setup import Chain
from pneumen.web.gain.marks import Frame, Handle
from pneumen.web.gain.picture import (
    gain_handle,
)
from pneumen.wording.figures import ENDS, OF_ALL, figure, turned
from pneumen.wording.knob import clock_told


@dataclass(frozen=True, slots=True, kw_only=True)
class Knob:
    """The gain control as a field: its range, where the target window lies on it, and how it reads."""

    marking: str
    minimum: float
    maximum: float
    value: float
    low_label: str
    high_label: str
    window_left: float
    window_width: float
    window_label: str
    share: float
    turned: tuple[str, str]
    spoken: str


def setting_told(chain: Chain, gain_db: float) -> str:
    """Say what a control is set to for a gain, in its own marks."""
    if chain.gain_marking == "bare":
        share = chain.knob.share_at(gain_db)
        return clock_told(share) if chain.taper else " ".join(turned(share, dial=chain.control == "dial"))
    return f"{figure(gain_db)} dB"


def knob_of(before: Outcome) -> Knob:
    chain, gain_db = before.setup.chain, before.gain_db
    marking, (low, high) = chain.gain_marking, chain.gain_range_db
    window = [min(max(edge, low), high) for edge in gain_window_db(before.levels, gain_db, before.setup.school)]
    share, dial = chain.knob.share_at(gain_db), chain.control == "dial"
    if marking == "bare":
        spoken = " ".join(turned(share, dial=dial)) + OF_ALL[chain.control]
        ends = ENDS[chain.control]
        (least, _), (most, unit) = (turned(chain.knob.share_at(edge), dial=dial) for edge in window)
        label = f"window about {least} to {most} {unit}"
        if chain.taper:
            least, most = (clock_told(chain.knob.share_at(edge)) for edge in window)
            label = f"window {least} to {most}"
    else:
        ends, spoken = (f"{figure(low)} dB", f"{figure(high)} dB"), f"{figure(gain_db)} dB"
        label = f"window {figure(window[0])} to {figure(window[1])} dB"
    reachable = window[1] > window[0]
    return Knob(
        marking=marking,
        minimum=low,
        maximum=high,
        value=round(gain_db, 1),
        low_label=ends[0],
        high_label=ends[1],
        window_left=100 * chain.knob.share_at(window[0]),
        window_width=100 * (chain.knob.share_at(window[1]) - chain.knob.share_at(window[0])),
        window_label=label if reachable else "window out of reach",
        share=100 * share,
        turned=turned(share, dial=dial),
        spoken=spoken,
    )


def gain_handle_of(frame: Frame, before: Outcome) -> Handle:
    """The gain's handle in the units of its field: dB, or per cent of a bare knob's turn."""
    chain = before.setup.chain
    low, high = chain.gain_range_db
    if chain.gain_marking == "db":
        spoken = f"{figure(before.gain_db)} dB"
        return gain_handle(frame, before, (low, high), before.gain_db, units_per_db=1, spoken=spoken)
    turn = 100 * before.setup.chain.knob.share_at(before.gain_db)
    spoken = f"{figure(turn)} %{OF_ALL[chain.control] or OF_ALL['knob']}"
    return gain_handle(frame, before, (0, 100), turn, units_per_db=100 / ((high - low) or 1), spoken=spoken)
