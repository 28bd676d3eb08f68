"""The delay of a part: the one plan that every screen reads."""

from pneumen.core.delay import DelayPlan, DeviceDelay, plan_delay
from pneumen.core.kit import device_delay
from pneumen.web.part.models import Part

BARE = "bare"


def delay_of(part: Part, buffer: int | None = None) -> DelayPlan | None:
    """Return what a part's device and its song's computer make of delay; None for a recorder, which hears by itself.

    Args:
        buffer: one to try out; None for the song's own.
    """
    box = part.interface or part.microphone
    if box is None or box.kind == "recorder":
        return None
    return _plan(part, device_delay(box), buffer)


def _plan(part: Part, device: DeviceDelay, tried: int | None) -> DelayPlan:
    song = part.song
    buffer = song.buffer if tried is None else tried
    plan = plan_delay(
        device,
        song.computer,
        song.sample_rate_hz,
        buffer=buffer,
        seen=[row.to_core() for row in song.buffers_seen.all()],
        load=song.load,
        plugin_samples=song.plugin_samples,
    )
    measured_ms = _measured_ms(part, plan.buffer)
    return plan if measured_ms is None else plan.with_measured(measured_ms)


def _measured_ms(part: Part, buffer: int) -> float | None:
    """Return the newest bare way round at this buffer and rate; what was simulated, or compensated, is none."""
    here = buffer, part.song.sample_rate_hz
    bare = (row for row in part.song.loops.all() if row.through == BARE and not row.simulated)
    return next((row.to_core().offset_ms for row in bare if (row.buffer, row.sample_rate_hz) == here), None)
