"""What a joint does to a signal: loading, level, length, the right box, the right plug."""

import math
from collections.abc import Iterator
from typing import Final

import numpy as np

from pneumen.core.errors import require_positive
from pneumen.core.hookup.chain import Cable, Chain
from pneumen.core.hookup.device import Device
from pneumen.core.hookup.finding import Fault
from pneumen.core.hookup.kinds import DI_BOXES, INSTRUMENT, LINE, MIC, SIGNALS
from pneumen.core.levels import divider_db
from pneumen.core.line import verdict_of_quiet
from pneumen.core.verdict import Verdict

LONGEST_UNBALANCED_M: Final = 5.0
BRIDGING: Final = 10.0
"""A load ten times the source or more hardly weighs on it (common practice, no source)."""
PICKUP_LOAD_OHM: Final = 470_000.0
"""Less of a load dulls a passive pickup, whose coil rises far above its own resistance (common practice, no source)."""
PAD_STEPS_DB: Final = (10.0, 20.0, 30.0, 40.0)
PICKUP_OHM: Final = 7_000.0
PICKUP_H: Final = 2.5
LEAD_PF_PER_M: Final = 120.0
"""A typical passive pickup and lead (7 kohm, 2.5 H, 100 to 150 pF a metre; from memory)."""
CONTROLS_OHM: Final = 250_000.0
"""An instrument's own volume and tone, 500 kohm each, always load its pickup (common practice, no source)."""


def lead_resonance_hz(length_m: float, *, inductance_h: float = PICKUP_H, pf_per_m: float = LEAD_PF_PER_M) -> float:
    """Return where a passive pickup and its lead ring together: all above falls away.

    Reference: f = 1 / (2 pi sqrt(L C)).

    >>> round(lead_resonance_hz(3.0)), round(lead_resonance_hz(10.0))
    (5305, 2906)
    """
    require_positive("length_m", length_m)
    return 1 / (2 * math.pi * math.sqrt(inductance_h * length_m * pf_per_m * 1e-12))


def lead_response_db(
    frequency_hz: np.ndarray,
    length_m: float,
    load_ohm: float,
    *,
    resistance_ohm: float = PICKUP_OHM,
    inductance_h: float = PICKUP_H,
    pf_per_m: float = LEAD_PF_PER_M,
    controls_ohm: float = CONTROLS_OHM,
) -> np.ndarray:
    """Return the response of a passive pickup into a lead and a load, against what it gives unloaded at 0 Hz.

    Args:
        controls_ohm: the instrument's own volume and tone; infinite where it has none.

    Returns:
        dB, of the frequencies' shape.

    Reference: R-L-C low-pass: the pickup's R and L in series, the lead's C, the controls and the load across the
    output.
    """
    require_positive("length_m", length_m)
    require_positive("load_ohm", load_ohm)
    s = 2j * np.pi * np.asarray(frequency_hz, dtype=float)
    across = 1 / (1 / load_ohm + 1 / controls_ohm + s * length_m * pf_per_m * 1e-12)
    return 20 * np.log10(np.abs(across / (across + resistance_ohm + s * inductance_h)))


def electric_faults(chain: Chain) -> Iterator[Fault]:
    """Yield what each joint does to the signal that passes it."""
    for cable, source, device in chain.inputs:
        yield from _box_faults(cable, source, device)
        yield from _level_faults(chain, cable, source, device)
        yield from _loading(cable, source, device)
        if (
            source.carries(cable.from_port) in SIGNALS
            and not cable.is_balanced
            and cable.length_m > LONGEST_UNBALANCED_M
        ):
            figures = {"length_m": cable.length_m, "longest_m": LONGEST_UNBALANCED_M}
            yield Fault(code="long-unbalanced", verdict=Verdict.MENDABLE, at=cable.ends_at, figures=figures)


def _box_faults(cable: Cable, source: Device, device: Device) -> Iterator[Fault]:
    """A DI box of the wrong kind: passive wants an active source, active a passive one; neither wants a microphone."""
    if device.kind not in DI_BOXES:
        return
    words = {"source": source.id, "box": device.id, "kind": device.kind}
    if source.kind == "passive-pickup" and device.kind == "passive-di":
        yield Fault(code="wrong-di", verdict=Verdict.MENDABLE, at=cable.ends_at, words=words | {"case": "dulls"})
    elif source.kind in ("active-pickup", "keyboard") and device.kind == "active-di":
        yield Fault(code="wrong-di", verdict=Verdict.WATCH, at=cable.ends_at, words=words | {"case": "not-needed"})
    elif source.facts.microphone:
        yield Fault(code="wrong-di", verdict=Verdict.MENDABLE, at=cable.ends_at, words=words | {"case": "microphone"})


def _level_faults(chain: Chain, cable: Cable, source: Device, device: Device) -> Iterator[Fault]:
    gives, takes = source.carries(cable.from_port), device.carries(cable.to_port)
    words = {"source": source.id, "device": device.id}
    if gives == "speaker" or takes == "speaker":
        return  # what drives a speaker is judged as a whole
    if gives == LINE and takes == MIC:
        yield Fault(code="line-into-mic", verdict=Verdict.BAKED_IN, at=cable.ends_at, words=words)
    elif gives == MIC and takes in (LINE, INSTRUMENT) and device.kind not in DI_BOXES:
        yield Fault(code="mic-into-line", verdict=Verdict.MENDABLE, at=cable.ends_at, words=words | {"takes": takes})
    peak_dbu, most_dbu = output_dbu_at(chain, cable), device.takes_dbu(cable.to_port)
    if peak_dbu is not None and most_dbu is not None and peak_dbu > most_dbu:
        over_db = peak_dbu - most_dbu
        pad_db = next((one for one in PAD_STEPS_DB if one >= over_db), math.ceil(over_db / 10) * 10.0)
        figures = {"peak_dbu": peak_dbu, "most_dbu": most_dbu, "over_db": over_db, "pad_db": pad_db}
        yield Fault(code="overload", verdict=Verdict.BAKED_IN, at=cable.ends_at, figures=figures, words=words)
    elif peak_dbu is not None and most_dbu is not None and device.gain_range_db is not None:
        reaches_dbfs = peak_dbu - most_dbu + device.gain_range_db
        verdict = verdict_of_quiet(reaches_dbfs)
        if verdict != Verdict.CLEAR:
            figures = {"peak_dbu": peak_dbu, "reaches_dbfs": reaches_dbfs}
            yield Fault(code="low-gain", verdict=verdict, at=cable.ends_at, figures=figures, words=words)


def output_dbu_at(chain: Chain, cable: Cable, seen: frozenset[str] = frozenset()) -> float | None:
    """Return the highest peak at the end of a cable, its load counted; through a box its source's and its own gain.

    None where nothing tells it.
    """
    source, device = chain.both_ends(cable)
    if source.id in seen:
        return None
    told = source.output_dbu if source.output_dbu is not None else source.facts.output_dbu
    if told is None:
        before = [
            dbu for one in chain.into(source.id) if (dbu := output_dbu_at(chain, one, seen | {source.id})) is not None
        ]
        if not before or source.facts.records:
            return None
        through_db = 0.0 if cable.from_port.startswith("thru") else source.adds_db
        told = max(before) + through_db
    load_ohm = device.takes_ohm(cable.to_port)
    return told + divider_db(source.output_ohm, load_ohm) if source.output_ohm and load_ohm else told


def _loading(cable: Cable, source: Device, device: Device) -> Iterator[Fault]:
    load_ohm, source_ohm = device.takes_ohm(cable.to_port), source.output_ohm
    if load_ohm is None or source_ohm is None or device.kind in DI_BOXES:
        return  # what a box does to its source is the box's own finding
    words = {"source": source.id}
    figures = {"load_ohm": load_ohm, "source_ohm": source_ohm, "loss_db": divider_db(source_ohm, load_ohm)}
    if source.kind == "passive-pickup":
        told_ohm = source.output_impedance_ohm  # a coil rises far above what it is told to be
        least_ohm = PICKUP_LOAD_OHM if told_ohm is None else min(PICKUP_LOAD_OHM, BRIDGING * told_ohm)
        if load_ohm < least_ohm:
            figures |= {"least_ohm": least_ohm, "resonance_hz": lead_resonance_hz(cable.length_m)}
            yield Fault(code="pickup-loading", verdict=Verdict.MENDABLE, at=cable.ends_at, figures=figures, words=words)
    elif load_ohm < 2 * source_ohm:
        yield Fault(code="loading", verdict=Verdict.WATCH, at=cable.ends_at, figures=figures, words=words)
