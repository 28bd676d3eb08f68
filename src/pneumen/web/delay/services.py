"""Keeping what decides a song's delay, what was seen, and the ways round that were measured."""

from collections.abc import Mapping
from dataclasses import replace
from typing import Any, Final

from django.db import transaction

from pneumen.core.delay import LOADS, Loop, journey, loop_of, recording_clips, test_signal
from pneumen.core.delay import Seen as CoreSeen
from pneumen.core.errors import UnknownName, UnreadableFile, given, require_within
from pneumen.core.rig import simulate_loop
from pneumen.core.take import open_recording
from pneumen.web.audio.services import Sent, received
from pneumen.web.delay.models import THROUGH, BufferSeen
from pneumen.web.delay.models import Loop as LoopRow
from pneumen.web.delay.plan import delay_of
from pneumen.web.hookup.services import keep_mix, mix_of
from pneumen.web.part.models import Part
from pneumen.wording.language import _

LONGEST_S: Final = 120.0
MOST_SEEN: Final = 40
ONE_SAMPLE: Final = 1.0
STORED: Final = {"buffer": "buffer", "load": "load", "plugins": "plugin_samples"}


@transaction.atomic
def keep(part: Part, changes: Mapping[str, Any]) -> None:
    """Store what was changed of buffer, load, plug-ins and the way one hears oneself.

    Raises:
        OutOfRange, UnknownName: naming what cannot be.
    """
    if changes.get("load", "plain") not in LOADS:
        raise UnknownName("load", changes["load"], tuple(LOADS))
    journey(changes.get("buffer", 128), 48_000, plugin_samples=changes.get("plugins", 0))  # refuses what cannot be
    song, named = part.song, {STORED[name]: value for name, value in changes.items() if name in STORED}
    for field, value in named.items():
        setattr(song, field, value)
    if named:
        song.save(update_fields=list(named))
    if "own" in changes:
        keep_mix(part, replace(mix_of(part), own=changes["own"]))


@transaction.atomic
def plan_again(part: Part) -> None:
    """Let the buffer go back to planned."""
    part.song.buffer = None
    part.song.save(update_fields=["buffer"])


@transaction.atomic
def add_seen(part: Part, buffer: int, *, crackled: bool, minutes: float) -> None:
    """Keep what was seen at a buffer; the newest at one size holds.

    Raises:
        OutOfRange: naming what cannot be.
    """
    seen = CoreSeen(buffer=buffer, crackled=crackled, minutes=minutes)
    if not crackled:
        require_within("minutes", minutes, 0.1, 10_000)
    rows = part.song.buffers_seen
    rows.filter(buffer=buffer).delete()
    require_within("rows", rows.count() + 1, 1, MOST_SEEN)
    BufferSeen.objects.create(
        owner=part.owner, song=part.song, buffer=seen.buffer, crackled=seen.crackled, minutes=seen.minutes
    )


@transaction.atomic
def remove_seen(part: Part, number: int) -> None:
    part.song.buffers_seen.filter(pk=number).delete()


def measure_loop(part: Part, sent: Sent, through: str) -> bool:
    """Measure the way round from a recording of the test file, and keep what it told; the file itself is not kept.

    Returns whether the recording clips.

    Raises:
        UnreadableFile, NotThere: where it is no recording of the test file, or an early one that nothing compensated.
        UnknownName: for a way that is not known.
    """
    if through not in THROUGH:
        raise UnknownName("through", through, THROUGH)
    rate_hz = part.song.sample_rate_hz
    with received(sent) as incoming, open_recording(incoming.path) as recording:
        if recording.sample_rate_hz != rate_hz:
            told = _("it is at {sample_rate_hz} Hz, the song at {rate_hz} Hz").format(
                sample_rate_hz=recording.sample_rate_hz, rate_hz=rate_hz
            )
            raise UnreadableFile(told, _("record at the song's rate"))
        samples = recording.loudest_channel(LONGEST_S)
    loop = loop_of(test_signal(rate_hz), samples, rate_hz)
    if through == "bare" and loop.offset_samples < -ONE_SAMPLE:
        told = _("it is {offset_samples:.1f} samples early, which nothing is that no program compensates").format(
            offset_samples=-loop.offset_samples
        )
        raise UnreadableFile(told, _("say that it went through the recording program"))
    _keep_loop(part, loop, through, simulated=False)
    return recording_clips(samples)


def simulated_loop(part: Part) -> Loop:
    """Let the stand-in send the test file round: late by what is worked out, and never quite."""
    rate_hz, plan = part.song.sample_rate_hz, given("delay", delay_of(part))
    signal = test_signal(rate_hz)
    taken = simulate_loop(signal, rate_hz, plan.round_trip_ms, seed=part.pk)
    return _keep_loop(part, loop_of(signal, taken, rate_hz), "bare", simulated=True)


@transaction.atomic
def _keep_loop(part: Part, loop: Loop, through: str, *, simulated: bool) -> Loop:
    plan = given("delay", delay_of(part))
    LoopRow.objects.create(
        owner=part.owner,
        song=part.song,
        through=through,
        simulated=simulated,
        buffer=plan.buffer,
        sample_rate_hz=part.song.sample_rate_hz,
        offset_samples=loop.offset_samples,
        confidence=loop.confidence,
        inverted=loop.polarity == "inverted",
        drift_ppm=loop.drift_ppm,
    )
    return loop


@transaction.atomic
def forget_loops(part: Part) -> None:
    part.song.loops.all().delete()
