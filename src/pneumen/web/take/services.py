"""Taking in a take, measuring it, and learning from it."""

import zlib
from dataclasses import replace
from functools import partial
from typing import Any

import msgspec
from django.db import transaction
from django.db.models import Max

from pneumen.core.errors import Contradiction
from pneumen.core.forecast import Outcome, line_of, mendings, noise_at_microphone
from pneumen.core.gain import KNOB_BAND
from pneumen.core.gear import directivity_index_db
from pneumen.core.live import Origin
from pneumen.core.part import guessed_levels
from pneumen.core.rig import Scene, draw_truth, simulate, simulate_pair, write_take
from pneumen.core.setup import (
    LineSetup,
    PluggedSetup,
    PlugLevels,
    SourceLevels,
    setup_from_object,
    setup_to_object,
)
from pneumen.core.take import Correction, Measurement, Outline, Played, measure, open_recording
from pneumen.web.audio import files
from pneumen.web.audio.models import AudioFile
from pneumen.web.audio.put_away import today
from pneumen.web.audio.services import Incoming, Sent, keep, received, release, samples_of, written
from pneumen.web.gain.services import freeze
from pneumen.web.job.services import Tell, cancel, queue
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of
from pneumen.web.take.lessons import correction_of, learn_from, may_teach
from pneumen.web.take.models import Take

SIMULATED_S = 12.0
RECORDED_HERE = "recorded here"


def snapshot_of(part: Part) -> dict[str, Any]:
    """Return all that is believed of a part at this moment; a take keeps it for good."""
    found = outcome_of(part)
    setup, levels = found.setup, found.levels
    return {
        "setup": setup_to_object(line_of(setup)),
        "gain_marking": setup.chain.gain_marking,
        "sheet_band_db": setup.chain.sheet_band_db,
        "chain_name": part.chain_name,
        "gear": " and ".join(item.name for item in part.devices),
        "distance_m": setup.placement.distance_m,
        "gain_db": setup.gain_db,
        "gain_range_db": setup.chain.gain_range_db,
        "taper": setup.chain.taper and msgspec.to_builtins(setup.chain.taper),
        "school": part.school,
        "channels": part.channels,
        "noise_change_db": setup.drawn_space.noise_change_db,
        "world": _world_of(part, found),
        "mendings": msgspec.to_builtins(mendings(found)),
        "prediction": {
            "peak_dbfs": levels.peak_dbfs,
            "typical_dbfs": levels.typical_dbfs,
            "noise_dbfs": levels.noise_dbfs,
            "clean_range_db": levels.clean_range_db,
            "signal_band_db": found.signal_band_db,
            "noise_band_db": found.noise_band_db,
            "clean_range_band_db": found.clean_range_band_db,
        },
    }


def take_in_upload(part: Part, name: str, sent: Sent) -> Take:
    """Store an uploaded recording and queue it for measuring: file and row together, or neither.

    Raises:
        UnreadableFile: where it is no recording that can be measured.
    """
    with received(sent) as incoming, transaction.atomic():
        return _new_take(part, original_name=_short_name(name), audio=keep(part.owner, incoming))


def take_in_live(part: Part, recording: Incoming, origin: Origin) -> Take:
    """Store what was recorded here and queue it for measuring: file and row together, or neither."""
    with transaction.atomic():
        audio = keep(part.owner, recording)
        return _new_take(part, original_name=RECORDED_HERE, audio=audio, captured=msgspec.to_builtins(origin))


def play_simulated(part: Part) -> Take:
    """Queue a take of the simulated performer, played through the setup as it stands."""
    return _new_take(part, original_name="simulated take", simulated=True)


@transaction.atomic
def _new_take(part: Part, **fields: Any) -> Take:
    freeze(part)
    last = Take.everything.filter(part=part).aggregate(Max("number"))["number__max"] or 0
    take = Take.objects.create(owner=part.owner, part=part, number=last + 1, snapshot=snapshot_of(part), **fields)
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
    measurement, outline = _measure(audio, tell, played=Played.of(take.part.source_facts))
    correction = correction_of(take, take.part, measurement)
    if audio.content_type:
        _finish(take, measurement, outline, correction)
        return
    with written(partial(files.write_preview, audio.path)) as copy, transaction.atomic():
        _finish(take, measurement, outline, correction, copy)


def _play(take: Take) -> AudioFile:
    """Play the take in a world the application is not told of: performer, data sheets and knob are drawn."""
    scene = hidden_scene(take.part, take.snapshot, take.number)
    played = simulate_pair(scene) if take.snapshot.get("channels", 1) > 1 else simulate(scene)
    with written(partial(write_take, played)) as recording, transaction.atomic():
        take.audio = keep(take.owner, recording)
        if not Take.everything.filter(pk=take.pk).update(audio=take.audio):  # deleted while it was played
            release(take.audio)
        return take.audio


def hidden_scene(part: Part, snapshot: dict[str, Any], number: int) -> Scene:
    """Return the stand-in's world for a part as it is set up in a snapshot: what it hides stays from take to take."""
    world = snapshot["world"]
    setup, _ = setup_from_object(snapshot["setup"])
    guess = guessed_levels(world["source"], world["loudness"])
    seed = zlib.crc32(f"{part.song.name}/{part.name}/{world['source']}".encode())
    return Scene(
        chain=_as_guessed(setup, guess.levels, world["room_noise_dba"]),
        source=world["source"],
        duration_s=SIMULATED_S,
        sample_rate_hz=world["sample_rate_hz"],
        seed=seed + number,
        truth=draw_truth(seed, number, loudness_band_db=guess.band_db, knob_band_db=world["knob_band_db"]),
        puff_m_per_s=world.get("puff_m_per_s"),
    )


def _as_guessed(setup: LineSetup, levels: SourceLevels | PlugLevels, room_noise_dba: float) -> LineSetup:
    """Return a setup with the levels that were guessed before any take taught better."""
    if isinstance(setup, PluggedSetup) and isinstance(levels, PlugLevels):
        return replace(setup, plug=levels)
    if isinstance(setup, PluggedSetup) or isinstance(levels, PlugLevels):
        raise Contradiction("levels", "and setup must both be of a plug, or both of a microphone")
    return replace(setup, source=levels, room_noise_dba=room_noise_dba)


def _world_of(part: Part, found: Outcome) -> dict[str, Any]:
    """Return what the stand-in starts from: the guesses and words, not what takes have taught since."""
    setup, chain = found.setup, found.setup.chain
    low, high = chain.gain_range_db
    told = replace(setup.drawn_space, noise_change_db=part.song.room.told_change_db)
    noise_dba = noise_at_microphone(told, setup.placement, setup.pattern) + directivity_index_db(setup.pattern)
    return {
        "source": part.source,
        "loudness": part.loudness,
        "room_noise_dba": min(max(noise_dba, -20.0), 140.0),
        "sample_rate_hz": part.song.sample_rate_hz,
        "puff_m_per_s": None if found.air is None else found.air.felt.get("pops"),
        "knob_band_db": KNOB_BAND * (high - low) / 2 if chain.gain_marking == "bare" else 0.0,
    }


def _measure(audio: AudioFile, tell: Tell, *, played: Played) -> tuple[Measurement, Outline]:
    with open_recording(audio.path) as recording:
        outline = Outline(recording.sample_rate_hz)
        return measure(recording, outline=outline, progress=tell, played=played), outline


@transaction.atomic
def _finish(
    take: Take,
    measurement: Measurement,
    outline: Outline,
    correction: Correction | None,
    preview: Incoming | None = None,
) -> None:
    stored = Take.objects.filter(pk=take.pk).first()
    if stored is None:  # deleted while it was being measured
        return
    stored.measurement = msgspec.to_builtins(measurement)
    stored.outline = {"seconds_per_column": outline.seconds_per_column, "columns": outline.columns}
    stored.correction = msgspec.to_builtins(correction) if correction else None
    stored.preview = keep(take.owner, preview) if preview else None
    stored.save(update_fields=["measurement", "outline", "correction", "preview"])
    if stored.simulated and may_teach(stored):
        learn_from(stored, Part.objects.whole().get(pk=take.part_id))
