"""Taking in a take, measuring it, and learning from it."""

import logging
from contextlib import ExitStack
from functools import partial
from typing import Any

import msgspec
from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from pneumen.core.live import Origin
from pneumen.core.rig import write_take
from pneumen.core.take import (
    Correction,
    Measurement,
    Outline,
    PeakTrace,
    Stamp,
    measure,
    open_recording,
    stamp_of,
)
from pneumen.web.audio import files
from pneumen.web.audio.models import AudioFile
from pneumen.web.audio.put_away import today
from pneumen.web.audio.services import Incoming, Sent, keep, received, release, samples_of, written
from pneumen.web.gain.services import freeze
from pneumen.web.job.services import Tell, cancel, queue
from pneumen.web.part.models import Part
from pneumen.web.site.space import is_full
from pneumen.web.take.layers import heard_in_headphones
from pneumen.web.take.lessons import correction_of, learn_from, may_teach
from pneumen.web.take.log import sitting_for
from pneumen.web.take.models import Take, built
from pneumen.web.take.performance import keep_study
from pneumen.web.take.snapshot import snapshot_of
from pneumen.web.take.stand_in import SIMULATED_S, length_of_song_s, played_by_stand_in
from pneumen.wording.language import _

RECORDED_HERE = _("recorded here")
log = logging.getLogger("pneumen.worker")


def take_in_upload(part: Part, name: str, sent: Sent, section: str = "") -> Take:
    """Store an uploaded recording and queue it for measuring: file and row together, or neither.

    Raises:
        UnreadableFile: where it is no recording that can be measured.
    """
    with received(sent) as incoming, transaction.atomic():
        return take_in(part, name, incoming, section)


def take_in(part: Part, name: str, incoming: Incoming, section: str = "") -> Take:
    """Store a recording that lies here already; to be called in a transaction.

    Raises:
        UnreadableFile: where it is no recording that can be measured.
    """
    stamp = stamp_of(incoming.path)
    audio = keep(part.owner, incoming)
    return _new_take(part, original_name=_short_name(name), audio=audio, section=section, **_stamped(stamp, audio))


def _stamped(stamp: Stamp | None, audio: AudioFile) -> dict[str, Any]:
    """Return what a file's time stamp tells; a clock that runs ahead of ours tells no time."""
    if stamp is None:
        return {}
    begun_at = timezone.make_aware(stamp.begun_at) if stamp.begun_at else None
    with open_recording(audio.path) as recording:
        reference_s = stamp.reference_samples / recording.sample_rate_hz
    return {
        "recorded_at": begun_at if begun_at and begun_at <= timezone.now() else None,
        "time_reference_s": reference_s,
    }


def take_in_live(part: Part, recording: Incoming, origin: Origin) -> Take:
    """Store what was recorded here and queue it for measuring: file and row together, or neither."""
    with transaction.atomic():
        audio = keep(part.owner, recording)
        return _new_take(part, original_name=RECORDED_HERE, audio=audio, captured=msgspec.to_builtins(origin))


def play_simulated(part: Part, *, whole: bool = False) -> Take:
    """Queue a take of the simulated performer, played through the setup as it stands.

    Args:
        whole: every line of the part is played, instead of a short passage.
    """
    length_s = length_of_song_s(part) if whole else SIMULATED_S
    return _new_take(part, original_name=_("simulated take"), simulated=True, stand_in_s=length_s)


@transaction.atomic
def _new_take(part: Part, *, stand_in_s: float | None = None, **fields: Any) -> Take:
    freeze(part)
    snapshot = snapshot_of(part)
    if stand_in_s is not None:
        snapshot["world"]["duration_s"] = stand_in_s
    last = Take.everything.filter(part=part).aggregate(Max("number"))["number__max"] or 0
    take = Take.objects.create(
        owner=part.owner,
        part=part,
        number=last + 1,
        sitting=sitting_for(part.song, fields.get("recorded_at")),
        snapshot=snapshot,
        backing=heard_in_headphones(part),
        **fields,
    )
    queue(take, cost=samples_of(take.audio) if take.audio else 0)
    return take


def _short_name(name: str) -> str:
    name = name.replace("\\", "/").rsplit("/", 1)[-1].strip() or "take"
    return name[-200:]


@transaction.atomic
def put_take_away(take: Take) -> None:
    """Put a take away with its recording; what it taught stays until that is undone."""
    take.put_away_day = today()
    take.save(update_fields=["put_away_day"])
    cancel(take)


@transaction.atomic
def bring_take_back(take: Take) -> None:
    """Bring a take back; it is measured where it had not been."""
    take.put_away_day = None
    take.save(update_fields=["put_away_day"])
    if not take.jobs.exists():
        queue(take, cost=samples_of(take.audio) if take.audio else 0)


def measure_take(take: Take, tell: Tell) -> None:
    """Make (if simulated) and measure a take; a simulated one was recorded as set, so it is learnt from at once.

    Raises:
        UnreadableFile: where it cannot be measured.
    """
    audio = take.audio or _play(take)
    measurement, trace = _measure(take, audio, tell)
    correction = correction_of(take, take.part, measurement)
    if audio.content_type:
        _finish(take, measurement, trace, correction)
    else:
        with written(partial(files.write_preview, audio.path)) as copy, transaction.atomic():
            _finish(take, measurement, trace, correction, copy)
    try:
        keep_study(take, audio)
    except Exception as error:  # it is measured all the same: what listens to a performance must not undo that
        log.warning(_("the timing and tuning of a take could not be told"), exc_info=not is_full(error))


def _measure(take: Take, audio: AudioFile, tell: Tell) -> tuple[Measurement, PeakTrace]:
    with ExitStack() as opened:
        recording = opened.enter_context(open_recording(audio.path))
        backing = opened.enter_context(open_recording(take.backing.path)) if take.backing else None
        outline = Outline(recording.sample_rate_hz)
        measurement = measure(recording, outline=outline, progress=tell, played=take.played, backing=backing)
        return measurement, outline.trace()


def _play(take: Take) -> AudioFile:
    """Have the stand-in play a take, and keep its file."""
    with written(partial(write_take, played_by_stand_in(take))) as recording, transaction.atomic():
        take.audio = keep(take.owner, recording)
        if not Take.everything.filter(pk=take.pk).update(audio=take.audio):  # deleted while it was played
            release(take.audio)
        return take.audio


@transaction.atomic
def _finish(
    take: Take,
    measurement: Measurement,
    trace: PeakTrace,
    correction: Correction | None,
    preview: Incoming | None = None,
) -> None:
    stored = Take.objects.filter(pk=take.pk).first()
    if stored is None:  # deleted while it was being measured
        return
    stored.judge(measurement)
    stored.peaks, stored.peak_s = trace.peaks, trace.seconds_per_column
    stored.correction = built(correction)
    stored.preview = keep(take.owner, preview) if preview else None
    stored.save(
        update_fields=["measurement", "judged", "length_s", "peak_dbfs", "peaks", "peak_s", "correction", "preview"]
    )
    if stored.simulated and may_teach(stored):
        learn_from(stored, Part.objects.whole().get(pk=take.part_id))
