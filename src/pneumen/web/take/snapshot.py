"""What is believed of a part when a take is recorded, kept with the take for good."""

from collections.abc import Iterable
from dataclasses import replace
from typing import Any, Final

import msgspec

from pneumen.core.delay import LOADS, DelayPlan, dropouts_per_minute
from pneumen.core.forecast import GROUND_LOOP, Outcome, cue_of, line_of, mendings, noise_at_microphone
from pneumen.core.gain import KNOB_BAND
from pneumen.core.gear import directivity_index_db
from pneumen.core.hookup import Fault, faults_of
from pneumen.core.rig import Troubles
from pneumen.core.setup import setup_to_object
from pneumen.web.delay.plan import delay_of
from pneumen.web.hookup.services import chain_of, mix_of
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of
from pneumen.wording.language import _

MAINS_HZ: Final = 50
"""Of the stand-in's world."""


def snapshot_of(part: Part) -> dict[str, Any]:
    """Return all that is believed of a part at this moment; a take keeps it for good."""
    found = outcome_of(part)
    setup, levels, mix = found.setup, found.levels, mix_of(part)
    faults, delay = faults_of(chain_of(part)), delay_of(part)
    return {
        "setup": setup_to_object(line_of(setup)),
        "gain_marking": setup.chain.gain_marking,
        "control": setup.chain.control,
        "sheet_band_db": setup.chain.sheet_band_db,
        "chain_name": part.chain_name,
        "gear": _(" and ").join(item.name for item in part.devices),
        "distance_m": setup.placement.distance_m,
        "placement": None if part.is_plugged else msgspec.to_builtins(setup.placement),
        "buffer": delay and delay.buffer,
        "gain_db": setup.gain_db,
        "gain_range_db": setup.chain.gain_range_db,
        "taper": setup.chain.taper and msgspec.to_builtins(setup.chain.taper),
        "school": part.school,
        "channels": part.channels,
        "noise_change_db": setup.drawn_space.noise_change_db,
        "world": _world_of(part, found) | _troubles_of(part, faults, delay),
        "mendings": msgspec.to_builtins(mendings(found, mix, faults=faults, delay=delay)),
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
        "beam_db": 0.0 if found.air is None else found.air.felt.get("sibilance", 0.0),
        "leak_dbfs": cue_of(found, replace(mix_of(part), leak_db_spl=None)).leak_dbfs,
        "knob_band_db": KNOB_BAND * (high - low) / 2 if chain.gain_marking == "bare" else 0.0,
    }


def _troubles_of(part: Part, faults: Iterable[Fault], delay: DelayPlan | None) -> dict[str, Any]:
    """Return what the stand-in's cables and computer do wrong: the model's own loops and lost buffers."""
    song = part.song
    troubles = Troubles(hum_hz=MAINS_HZ if any(one.code == GROUND_LOOP for one in faults) else None)
    if delay is not None:
        lost = dropouts_per_minute(song.computer, delay.buffer, song.sample_rate_hz, load=LOADS[song.load])
        troubles = replace(troubles, lost_a_minute=lost, lost_samples=delay.buffer)
    return {"troubles": msgspec.to_builtins(troubles)}
