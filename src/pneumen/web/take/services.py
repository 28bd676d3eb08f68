"""Taking in a take, measuring it, and learning from it."""

import zlib
from collections.abc import Iterable
from dataclasses import replace
from typing import Any

import msgspec
from django.db import transaction
from django.db.models import Max

from pneumen.core.errors import PneumenError, UnreadableFile
from pneumen.core.forecast import Outcome, noise_at_microphone
from pneumen.core.gain import KNOB_BAND
from pneumen.core.gear import directivity_index_db
from pneumen.core.part import guessed_levels
from pneumen.core.rig import Scene, draw_truth, simulate, write_take
from pneumen.core.setup import (
    LineSetup,
    PluggedSetup,
    PlugLevels,
    SourceLevels,
    setup_from_object,
    setup_to_object,
)
from pneumen.core.take import Correction, Measurement, Outline, correction_from, measure, open_recording
from pneumen.web.gain.services import freeze
from pneumen.web.song.models import Part, Take
from pneumen.web.song.settle import outcome_of
from pneumen.web.take import files

SIMULATED_S = 12.0
ROOM_SAME_CHAIN_BAND_DB = 1.5
"""How far a room's noise, as one chain hears it, differs from take to take (estimate)."""


def snapshot_of(part: Part) -> dict[str, Any]:
    """Return all that is believed of a part at this moment; a take keeps it for good."""
    found = outcome_of(part)
    setup, levels = found.setup, found.levels
    return {
        "setup": setup_to_object(setup.line(found.air.noise_dba if found.air else 0.0)),
        "gain_marking": setup.chain.gain_marking,
        "sheet_band_db": setup.chain.sheet_band_db,
        "chain_name": part.chain_name,
        "gear": " and ".join(item.name for item in part.devices),
        "distance_m": setup.placement.distance_m,
        "gain_db": setup.gain_db,
        "school": part.school,
        "noise_change_db": setup.space.noise_change_db,
        "world": _world_of(part, found),
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


def take_in_upload(part: Part, name: str, chunks: Iterable[bytes]) -> Take:
    """Store an uploaded recording and queue it for measuring: file and row together, or neither.

    Raises:
        UnreadableFile: where it is no recording that can be measured.
    """
    checksum = files.store(chunks)
    try:
        with open_recording(files.path_of(checksum)):
            pass
        return _new_take(part, original_name=_short_name(name), checksum=checksum)
    except BaseException:
        files.drop_unused(checksum)
        raise


def play_simulated(part: Part) -> Take:
    """Queue a take of the simulated performer, played through the setup as it stands."""
    return _new_take(part, original_name="simulated take", simulated=True)


@transaction.atomic
def _new_take(part: Part, **fields: Any) -> Take:
    freeze(part)
    last = part.takes.aggregate(Max("number"))["number__max"] or 0
    return Take.objects.create(owner=part.owner, part=part, number=last + 1, snapshot=snapshot_of(part), **fields)


def _short_name(name: str) -> str:
    name = name.replace("\\", "/").rsplit("/", 1)[-1].strip() or "take"
    return name[-200:]


def delete_take(take: Take) -> None:
    """Delete a take with its file; what it taught stays until it is forgotten."""
    checksums = take.checksum, take.preview_checksum
    take.delete()
    files.drop_unused(*checksums)


def work_on(take: Take) -> None:
    """Make (if simulated) and measure a take; leaves it done with its findings, or failed with the reason."""
    try:
        if take.simulated and not take.checksum:
            take.checksum = _simulate(take)
        measurement, outline = _measure(take)
    except UnreadableFile as error:
        Take.objects.filter(pk=take.pk).update(status=Take.FAILED, error=str(error)[:400], checksum=take.checksum)
        return
    setup, _ = setup_from_object(take.snapshot["setup"])
    correction = correction_from(
        measurement,
        setup,
        gain_marking=take.snapshot["gain_marking"],
        sheet_band_db=take.snapshot["sheet_band_db"],
    )
    _finish(take, measurement, outline, correction)


def _simulate(take: Take) -> str:
    """Play the take in a world the application is not told of: performer, data sheets and knob are drawn."""
    part, world = take.part, take.snapshot["world"]
    setup, _ = setup_from_object(take.snapshot["setup"])
    guess = guessed_levels(world["source"], world["loudness"])
    seed = zlib.crc32(f"{part.song.name}/{part.name}/{world['source']}".encode())
    scene = Scene(
        chain=_as_guessed(setup, guess.levels, world["room_noise_dba"]),
        source=world["source"],
        duration_s=SIMULATED_S,
        sample_rate_hz=world["sample_rate_hz"],
        seed=seed + take.number,
        truth=draw_truth(seed, take.number, loudness_band_db=guess.band_db, knob_band_db=world["knob_band_db"]),
    )
    path = files.incoming(".wav")
    write_take(simulate(scene), path)
    return files.store_file(path)


def _as_guessed(setup: LineSetup, levels: SourceLevels | PlugLevels, room_noise_dba: float) -> LineSetup:
    """Return a setup with the levels that were guessed before any take taught better."""
    if isinstance(setup, PluggedSetup):
        return replace(setup, plug=levels)
    return replace(setup, source=levels, room_noise_dba=room_noise_dba)


def _world_of(part: Part, found: Outcome) -> dict[str, Any]:
    """Return what the stand-in starts from: the guesses and words, not what takes have taught since."""
    setup, chain = found.setup, found.setup.chain
    low, high = chain.gain_range_db
    told = replace(setup.space, noise_change_db=part.song.room.told_change_db)
    noise_dba = noise_at_microphone(told, setup.placement, setup.pattern) + directivity_index_db(setup.pattern)
    return {
        "source": part.source,
        "loudness": part.loudness,
        "room_noise_dba": min(max(noise_dba, -20.0), 140.0),
        "sample_rate_hz": part.song.sample_rate_hz,
        "knob_band_db": KNOB_BAND * (high - low) / 2 if chain.gain_marking == "bare" else 0.0,
    }


def _measure(take: Take) -> tuple[Measurement, Outline]:
    def tell(share: float) -> None:
        if share - tell.told >= 0.05:
            tell.told = share
            Take.objects.filter(pk=take.pk).update(progress=share)

    tell.told = 0.0
    with open_recording(files.path_of(take.checksum)) as recording:
        outline = Outline(recording.sample_rate_hz)
        measurement = measure(recording, outline=outline, progress=tell)
    shape = measurement.format
    if (shape.container, shape.encoding) not in files.PLAYABLE:
        take.preview_checksum = files.make_preview(take.checksum)
    return measurement, outline


@transaction.atomic
def _finish(take: Take, measurement: Measurement, outline: Outline, correction: Correction | None) -> None:
    done = Take.objects.filter(pk=take.pk).update(
        checksum=take.checksum,
        preview_checksum=take.preview_checksum,
        measurement=msgspec.to_builtins(measurement),
        outline={"seconds_per_column": outline.seconds_per_column, "columns": outline.columns},
        correction=msgspec.to_builtins(correction) if correction else None,
        status=Take.DONE,
        progress=1,
    )
    if not done:  # deleted while it was being measured
        files.drop_unused(take.checksum, take.preview_checksum)
        return
    part = Part.objects.select_related("song__room").get(pk=take.part_id)
    if correction and take.snapshot["chain_name"] == part.chain_name:
        learn(part, take, correction)


def learn(part: Part, take: Take, correction: Correction) -> None:
    """Store with the part what a take taught, and with the room how loud it is: every plan starts from there now."""
    part.known_levels = msgspec.to_builtins(correction.source)
    part.known_band_db = correction.level_band_db
    part.known_source_band_db = correction.source_band_db
    part.known_absolute = correction.absolute
    part.known_chain = take.snapshot["chain_name"]
    part.known_gain_db = take.snapshot["gain_db"]
    part.known_from = take
    part.known_noise_change_db, part.known_noise_band_db = None, None
    change_db = _noise_change_db(take, correction)
    if change_db is not None:
        part.known_noise_change_db, part.known_noise_band_db = change_db, ROOM_SAME_CHAIN_BAND_DB
    part.save(update_fields=KNOWN_FIELDS)
    if change_db is not None and correction.absolute and not correction.room_is_bound:
        room = part.song.room
        room.noise_change_db, room.noise_band_db = change_db, correction.room_band_db
        room.save(update_fields=["noise_change_db", "noise_band_db"])


KNOWN_FIELDS = (
    "known_levels",
    "known_band_db",
    "known_source_band_db",
    "known_absolute",
    "known_chain",
    "known_gain_db",
    "known_from",
    "known_noise_change_db",
    "known_noise_band_db",
)
MOST_CHANGE_DB = 80.0


def _noise_change_db(take: Take, correction: Correction) -> float | None:
    """Return how far the room's noise lies from what its words say, as the take tells; None where it does not."""
    if correction.room_noise_dba is None:
        return None
    believed = take.snapshot["setup"]["room"]["noise_dba"]
    change = take.snapshot["noise_change_db"] + correction.room_noise_dba - believed
    return min(max(change, -MOST_CHANGE_DB), MOST_CHANGE_DB)


def work_on_next() -> bool:
    """Take up the next waiting take; False where there is none."""
    with transaction.atomic():
        take = Take.objects.filter(status=Take.WAITING).order_by("pk").first()
        if take is None:
            return False
        Take.objects.filter(pk=take.pk).update(status=Take.WORKING, progress=0)
        take.status = Take.WORKING
    try:
        work_on(take)
    except PneumenError as error:
        Take.objects.filter(pk=take.pk).update(status=Take.FAILED, error=str(error)[:400])
    return True


def take_up_again() -> None:
    """Queue anew what a killed worker left half done."""
    Take.objects.filter(status=Take.WORKING).update(status=Take.WAITING, progress=0)
