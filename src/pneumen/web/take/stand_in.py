"""The stand-in plays a take in a world the application is not told of: performer, data sheets and knob are drawn."""

import zlib
from dataclasses import replace
from typing import Any, Final

import msgspec

from pneumen.core.errors import Contradiction
from pneumen.core.part import guessed_levels
from pneumen.core.rig import (
    Scene,
    SimulatedTake,
    Troubles,
    draw_truth,
    length_of_lines,
    simulate,
    simulate_pair,
    with_leak,
    with_troubles,
)
from pneumen.core.setup import LineSetup, PluggedSetup, PlugLevels, SourceLevels, setup_from_object
from pneumen.core.take import open_recording
from pneumen.web.part.models import Part
from pneumen.web.take.models import Take
from pneumen.wording.language import _

SIMULATED_S: Final = 12.0


def played_by_stand_in(take: Take) -> SimulatedTake:
    """Play a take as it was set up: with what leaks from the headphones, hums, and gets lost."""
    world = take.snapshot["world"]
    scene = hidden_scene(take.part, take.snapshot, take.number)
    played = simulate_pair(scene) if take.snapshot.get("channels", 1) > 1 else simulate(scene)
    played = _with_backing(take, played)
    if "troubles" not in world:  # a take of an older version
        return played
    return with_troubles(played, msgspec.convert(world["troubles"], Troubles), scene.seed)


def _with_backing(take: Take, played: SimulatedTake) -> SimulatedTake:
    """Let the backing leak out of the headphones; it begins with the take."""
    leak_dbfs = take.snapshot["world"].get("leak_dbfs")
    if take.backing is None or leak_dbfs is None:
        return played
    with open_recording(take.backing.path) as recording:
        rate_hz = recording.sample_rate_hz
        heard = recording.stretches(0, round(_length_s(take.snapshot) * rate_hz))
    return with_leak(played, heard.T, rate_hz, leak_dbfs=min(leak_dbfs, 0.0))


def hidden_scene(part: Part, snapshot: dict[str, Any], number: int) -> Scene:
    """Return the stand-in's world for a part as it is set up in a snapshot: what it hides stays from take to take."""
    world = snapshot["world"]
    setup, _rest = setup_from_object(snapshot["setup"])
    guess = guessed_levels(world["source"], world["loudness"])
    seed = seed_of(part, world["source"])
    return Scene(
        chain=_as_guessed(setup, guess.levels, world["room_noise_dba"]),
        source=world["source"],
        duration_s=_length_s(snapshot),
        sample_rate_hz=world["sample_rate_hz"],
        seed=seed + number,
        truth=draw_truth(seed, number, loudness_band_db=guess.band_db, knob_band_db=world["knob_band_db"]),
        puff_m_per_s=world.get("puff_m_per_s"),
        beam_db=world.get("beam_db", 0.0),
    )


def seed_of(part: Part, source: str) -> int:
    """Return what decides the stand-in's world for a part, and the notes it plays."""
    return zlib.crc32(f"{part.song.name}/{part.name}/{source}".encode())


def length_of_song_s(part: Part) -> float:
    """Return how long the stand-in plays when it plays every line of the part's sheet, or of its words."""
    lines = lines_of(part)
    return max(SIMULATED_S, length_of_lines(part.source, lines, seed_of(part, part.source))) if lines else SIMULATED_S


def lines_of(part: Part) -> int:
    """Return how many lines a part has: on its sheet, or in the words of its sections; 0 where it has none."""
    words = (line for section in part.sections.all() for line in section.words.splitlines())
    return part.sheet_lines.count() or sum(bool(line.strip()) for line in words)


def _length_s(snapshot: dict[str, Any]) -> float:
    return float(snapshot["world"].get("duration_s", SIMULATED_S))


def _as_guessed(setup: LineSetup, levels: SourceLevels | PlugLevels, room_noise_dba: float) -> LineSetup:
    """Return a setup with the levels that were guessed before any take taught better."""
    if isinstance(setup, PluggedSetup) and isinstance(levels, PlugLevels):
        return replace(setup, plug=levels)
    if isinstance(setup, PluggedSetup) or isinstance(levels, PlugLevels):
        raise Contradiction("levels", _("and setup must both be of a plug, or both of a microphone"))
    return replace(setup, source=levels, room_noise_dba=room_noise_dba)
