"""The stand-in for performer, room, microphone, interface and computer, so that the loop can be tried without them.

It works on waveforms and shares no level arithmetic with `line`: that the two agree is a test of both.
"""

from pneumen.core.rig.air import air_of
from pneumen.core.rig.clap import simulate_clap
from pneumen.core.rig.knob import simulate_knob
from pneumen.core.rig.leak import with_leak
from pneumen.core.rig.length import length_of_lines
from pneumen.core.rig.loop import latency_samples, simulate_loop
from pneumen.core.rig.minute import simulate_minute
from pneumen.core.rig.performer import PERFORMERS
from pneumen.core.rig.scene import EXAMPLE, Scene, scene_from_json
from pneumen.core.rig.simulate import SimulatedTake, simulate, simulate_pair, write_take
from pneumen.core.rig.troubles import Troubles, with_troubles
from pneumen.core.rig.truth import AS_TOLD, Truth, draw_truth

__all__ = [
    "AS_TOLD",
    "EXAMPLE",
    "PERFORMERS",
    "Scene",
    "SimulatedTake",
    "Troubles",
    "Truth",
    "air_of",
    "draw_truth",
    "latency_samples",
    "length_of_lines",
    "scene_from_json",
    "simulate",
    "simulate_clap",
    "simulate_knob",
    "simulate_loop",
    "simulate_minute",
    "simulate_pair",
    "with_leak",
    "with_troubles",
    "write_take",
]
