"""What the page shows of a one-minute check."""

from collections.abc import Mapping
from dataclasses import dataclass

from pneumen.core.verdict import Verdict
from pneumen.web.live.models import MinuteCheck
from pneumen.wording.figures import figure
from pneumen.wording.live import origin_told, origin_troubles
from pneumen.wording.minute import RATIOS, SHORT, TAKEN, USE, minute_rows


@dataclass(frozen=True, slots=True, kw_only=True)
class CutField:
    """A step with the seconds it lies at, as they stand or were typed."""

    step: str
    label: str
    start: str
    end: str


@dataclass(frozen=True, slots=True, kw_only=True)
class MinuteScreen:
    """All the page shows."""

    rows: tuple[tuple[str, str, str, Verdict], ...]
    cuts: tuple[CutField, ...]
    ratios: str
    uses: tuple[tuple[str, str, str, bool], ...]
    captured: tuple[str, ...]


def minute_screen(check: MinuteCheck, typed: Mapping[str, str]) -> MinuteScreen:
    """Return what the page shows; typed are cuts that were refused."""
    cuts, found, origin = {one.step: one for one in check.to_core_cuts()}, check.to_core(), check.to_core_origin()
    fields = [
        CutField(
            step=step,
            label=SHORT[step],
            start=typed.get(f"{step}-start", figure(cuts[step].start_s, 1) if step in cuts else ""),
            end=typed.get(f"{step}-end", figure(cuts[step].end_s, 1) if step in cuts else ""),
        )
        for step in check.steps
    ]
    can = {"take": found.peak_dbfs is not None and found.noise_dbfs is not None, "clap": found.rt60_s is not None}
    can["leak"] = found.leak_dbfs is not None
    return MinuteScreen(
        rows=minute_rows(found, check.steps),
        cuts=tuple(fields),
        ratios=RATIOS,
        uses=tuple((what, USE[what], TAKEN[what], what in check.used) for what, possible in can.items() if possible),
        captured=(origin_told(origin), *origin_troubles(origin)) if origin else (),
    )
