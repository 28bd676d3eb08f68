"""The one-minute check: kept, cut anew by hand, and used for the take, the room and the headphones."""

from collections.abc import Mapping
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import Final

import msgspec
import numpy as np
import soundfile
from django.db import transaction

from pneumen.core.errors import Contradiction
from pneumen.core.forecast import cue_of, leak_at_microphone_db
from pneumen.core.live import CLAP, Cut, Origin, cuts_in, minute_of, steps_for
from pneumen.core.live.guide import AGAIN, LOUDEST, SILENCE
from pneumen.core.rig import simulate_clap, simulate_minute, write_take
from pneumen.core.room import clap_of
from pneumen.core.take import open_recording
from pneumen.web.audio.services import Incoming, Sent, keep, received, written
from pneumen.web.hookup.services import keep_mix, mix_of
from pneumen.web.live.models import MinuteCheck
from pneumen.web.part.models import Part
from pneumen.web.reading import number_of
from pneumen.web.room.services import keep_clap
from pneumen.web.settle import outcome_of
from pneumen.web.take.services import take_in_live
from pneumen.web.take.snapshot import snapshot_of
from pneumen.web.take.stand_in import hidden_scene
from pneumen.wording.language import _

LONGEST_S: Final = 240.0
SILENT_DBFS: Final = -200.0
"""The stand-in's clap brings no noise of its own: the room's is there already."""
USES: Final = ("take", "clap", "leak")


def steps_of(part: Part) -> tuple[str, ...]:
    """Return the steps that apply to a part: a plug hears no room, and an instrument says no words."""
    plays_along = mix_of(part).backing_db_spl is not None and not part.is_plugged
    has_words = part.source_facts.group == "voice"
    return steps_for(plays_along=plays_along, has_helper=not part.is_plugged, has_words=has_words)


@transaction.atomic
def keep_minute(part: Part, recording: Incoming, origin: Origin | None = None) -> MinuteCheck:
    """Keep a recorded check, cut by itself and measured.

    Raises:
        UnreadableFile: where it is no recording, or nothing of a check is heard in it.
    """
    samples, rate_hz = _read(recording.path)
    steps = steps_of(part)
    cuts = cuts_in(samples, rate_hz, steps)
    if not cuts:
        raise Contradiction(
            "recording", _("holds no step of the check: two seconds of quiet first, then the first line")
        )
    return MinuteCheck.objects.create(
        owner=part.owner,
        part=part,
        audio=keep(part.owner, recording),
        steps=list(steps),
        cuts=msgspec.to_builtins(cuts),
        result=msgspec.to_builtins(minute_of(samples, rate_hz, cuts)),
        origin=msgspec.to_builtins(origin) if origin else None,
    )


def take_in_minute(part: Part, sent: Sent) -> MinuteCheck:
    """Keep a check that was recorded elsewhere.

    Raises:
        PneumenError: as keep_minute does.
    """
    with received(sent) as recording:
        return keep_minute(part, recording)


def simulate_check(part: Part) -> MinuteCheck:
    """Let the stand-in do a check where the part stands: its room's clap, and the leak that is estimated."""
    found, steps = outcome_of(part), steps_of(part)
    scene = hidden_scene(part, snapshot_of(part), MinuteCheck.objects.filter(part=part).count() + 1)
    clap = None
    if CLAP in steps:
        here, rate_hz = found.setup.placement, scene.sample_rate_hz
        box = found.setup.drawn_space.box
        clap = simulate_clap(box, here.mouth_m, here.microphone_m, rate_hz=rate_hz, noise_dbfs=SILENT_DBFS)
    leak_dbfs = cue_of(found, mix_of(part)).leak_dbfs
    played = simulate_minute(scene, steps, leak_dbfs=leak_dbfs, clap=clap)
    with written(partial(write_take, played)) as recording:
        return keep_minute(part, recording)


@transaction.atomic
def cut_anew(check: MinuteCheck, sent: Mapping[str, str]) -> None:
    """Measure a check with its steps where its person says they lie; an emptied one is left out.

    Raises:
        PneumenError: for a cut that cannot be.
    """
    cuts = tuple(_cut(step, sent) for step in check.steps if sent.get(f"{step}-start", "").strip())
    samples, rate_hz = _read(check.audio.path)
    check.result = msgspec.to_builtins(minute_of(samples, rate_hz, cuts))
    check.cuts = msgspec.to_builtins(cuts)
    check.save(update_fields=["cuts", "result"])


@transaction.atomic
def use(check: MinuteCheck, what: str) -> None:
    """Let a check's loudest line be a take, its clap the room's, or its leak that of the headphones.

    Raises:
        Contradiction: where it does not tell that.
    """
    part = Part.objects.whole().get(pk=check.part_id)
    {"take": _use_take, "clap": _use_clap, "leak": _use_leak}[what](part, check)
    check.used = sorted({*check.used, what})
    check.save(update_fields=["used"])


def _use_take(part: Part, check: MinuteCheck) -> None:
    """Make a take of the loudest line and the silence after it: level and noise at one gain."""
    cuts = {cut.step: cut for cut in check.to_core_cuts()}
    line, silence = cuts.get(AGAIN, cuts.get(LOUDEST)), cuts.get(SILENCE)
    if line is None or silence is None:
        raise Contradiction("take", _("needs the loudest line and the silence: mend the cuts, or do it again"))
    origin = check.to_core_origin() or Origin(device="", channel=0, channels=1, sample_rate_hz=_rate_hz(check))
    with written(partial(_write_stretch, check.audio.path, line.start_s, silence.end_s)) as recording:
        take_in_live(part, recording, replace(origin, channel=0, channels=1))


def _use_clap(part: Part, check: MinuteCheck) -> None:
    cut = next((one for one in check.to_core_cuts() if one.step == CLAP), None)
    if cut is None:
        raise Contradiction("clap", _("was not heard: mend the cuts, or do it again"))
    samples, rate_hz = _read(check.audio.path)
    keep_clap(part.song.room, clap_of(samples[round(cut.start_s * rate_hz) : round(cut.end_s * rate_hz)], rate_hz))


def _use_leak(part: Part, check: MinuteCheck) -> None:
    leak_dbfs = check.to_core().leak_dbfs
    leak_db_spl = None if leak_dbfs is None else leak_at_microphone_db(outcome_of(part), leak_dbfs)
    if leak_db_spl is None:
        raise Contradiction("leak", _("was not measured: play the backing in a check"))
    keep_mix(part, replace(mix_of(part), leak_db_spl=leak_db_spl))


def _cut(step: str, sent: Mapping[str, str]) -> Cut:
    start_s, end_s = (number_of(sent.get(f"{step}-{end}", ""), f"{step} {end}") for end in ("start", "end"))
    return Cut(step=step, start_s=start_s, end_s=end_s)


def _read(path: Path) -> tuple[np.ndarray, int]:
    with open_recording(path) as recording:
        rate_hz = recording.sample_rate_hz
        return recording.loudest_channel(LONGEST_S), rate_hz


def _rate_hz(check: MinuteCheck) -> int:
    with open_recording(check.audio.path) as recording:
        return recording.sample_rate_hz


def _write_stretch(source: Path, start_s: float, end_s: float, target: Path) -> None:
    samples, rate_hz = _read(source)
    piece = samples[round(start_s * rate_hz) : round(end_s * rate_hz)]
    soundfile.write(target, np.clip(piece, -1, 1), rate_hz, subtype="PCM_24", format="WAV")
