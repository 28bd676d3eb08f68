"""Devices that a strictly cheaper one equals whatever they are plugged to: no unbeaten kit holds one.

It is told from the data sheets, before any chain is computed, so that the search grows with what is worth having and
not with the catalogue. It is exact: gains are whole decibels, so that of two chains the one that ought to be quieter
may come up to a decibel nearer to its converter's noise, and a rival has to be ahead by that much.
"""

import math
from collections.abc import Hashable, Sequence
from typing import Final

import numpy as np

from pneumen.core.kit.accessories import Shelf
from pneumen.core.kit.catalogue import BOXED_OUTPUT_OHM
from pneumen.core.kit.evaluate import Inputs, Microphones, Voice, unboosted_of
from pneumen.core.kit.frontier import SAME
from pneumen.core.kit.item import Item
from pneumen.core.kit.needs import Needs
from pneumen.core.levels import divider_db

MOST_ROUNDED_DB: Final = 0.5
"""How far rounding moves a gain."""
IN_A_BOX: Final = frozenset({"headphones", "phones-adapter", "memory-card", "software", "usb-cable"})
"""What lies in an interface's box and would have to be bought otherwise."""
FEW_COLUMNS: Final = 32


def interfaces_worth_trying(
    needs: Needs, shelf: Shelf, hubs: list[Item], miked: Microphones | None, plugs: list[Voice]
) -> list[Item]:
    """Return the interfaces that no cheaper one equals behind every one of these microphones and plugs."""
    inputs, together = Inputs(hubs), needs.most_at_once > 1
    powered = np.array([[hub.phantom != "none"] for hub in hubs])
    merits = [
        -inputs.converter,
        -inputs.ein_dbu,
        inputs.high - inputs.low - inputs.max_input_dbu,
        inputs.there,
        powered,
    ]
    merits += _loads(inputs, _highest_output_ohm(miked, plugs))
    sockets = [
        (Inputs.for_plug(hubs, passive=part.source.is_passive), part.source.direct.output_ohm)
        for part in needs.parts
        if part.source.direct is not None
    ]
    for socket, output_ohm in sockets:
        merits += [socket.there, -socket.ein_dbu, socket.high - socket.low - socket.max_input_dbu]
        merits += _loads(socket, output_ohm)
    if sockets and needs.most_inputs > 1:
        counts = [(hub.mic_inputs or 0, hub.instrument_inputs or 0, hub.line_inputs or 0) for hub in hubs]
        merits += [np.array(column)[:, None] for column in zip(*counts, strict=True)]
    ahead = np.zeros((len(hubs), len(merits)))
    # At its lowest gain an input that is too sensitive lies as far over its converter's noise as it lies over the aim.
    loudest_dbu = max(_loudest_miked_dbu(inputs, miked), _loudest_plugged_dbu(needs, plugs))
    lowest_dbu = np.min([inputs.max_input_dbu, *(one.max_input_dbu for one, _ in sockets)], axis=0)
    too_hot_db = np.maximum(loudest_dbu - lowest_dbu[:, 0], 0.0)
    ahead[:, 0] = too_hot_db + 2 * MOST_ROUNDED_DB
    special = np.array([_is_special(needs, shelf, hub) for hub in hubs])
    out = outclassed(
        np.array([shelf.cost(hub) for hub in hubs]),
        [(IN_A_BOX & set(hub.in_box), hub.phones_plug, together and hub.phantom) for hub in hubs],
        np.hstack(merits).astype(float),
        ahead,
        may_replace=~special,
        stays=special,
    )
    return [hub for hub, gone in zip(hubs, out, strict=True) if not gone]


def microphones_worth_trying(needs: Needs, shelf: Shelf, hubs: list[Item], miked: Microphones) -> Microphones:
    """Return the microphones, each perhaps boosted, that no cheaper one equals behind every one of these interfaces."""
    inputs = Inputs(hubs)
    at_input = [_at_input_dbu(miked, float(ohm)) for ohm in (inputs.impedance_ohm.min(), inputs.impedance_ohm.max())]
    serves = [heard.peak_spl + heard.band_db <= miked.max_spl for heard in miked.heard.values()]
    merits = np.array([-(10 ** (miked.own_dba / 10)), *at_input, *serves], dtype=float).T
    ahead = np.zeros_like(merits)
    ahead[:, 0] = _most_lost_by_rounding(float(inputs.converter.max()), miked)
    special = np.array([any(_is_special(needs, shelf, one) for one in voice.devices) for voice in miked.voices])
    fits = _at_loudest_dbu(miked, at_input[1]) <= float(inputs.max_input_dbu.min())
    plain = unboosted_of(miked.voices)  # a booster may be left out: what replaces it has to serve so too
    power = list(zip(miked.need_phantom.tolist(), miked.hurt_by_phantom.tolist(), strict=True))
    out = outclassed(
        np.array([sum(shelf.cost(one) for one in voice.devices) for voice in miked.voices]),
        [(voice.wants, voice.pattern, power[n], power[plain[n]]) for n, voice in enumerate(miked.voices)],
        np.hstack([merits, merits[plain]]),
        np.hstack([ahead, ahead[plain]]),
        may_replace=~special & fits & fits[plain],
        stays=special,
    )
    out[plain[~out]] = False
    return miked.only(~out)


def outclassed(
    costs: np.ndarray,
    alike: Sequence[Hashable],
    merits: np.ndarray,
    ahead: np.ndarray,
    *,
    may_replace: np.ndarray,
    stays: np.ndarray,
) -> np.ndarray:
    """Tell which of n devices a strictly cheaper one equals in every merit, shape (n,).

    Args:
        costs: shape (n,).
        alike: what two devices must have in common to be compared at all, n of them.
        merits: more is better, shape (n, k).
        ahead: how far a rival must be ahead of a device in each merit, shape (n, k).
        may_replace: which are there as often as wanted, and serve wherever the other does, shape (n,).
        stays: which are needed whatever they are worth, shape (n,).
    """
    out = np.zeros(len(costs), dtype=bool)
    groups: dict[Hashable, list[int]] = {}
    for number in np.argsort(costs, kind="stable").tolist():
        groups.setdefault(alike[number], []).append(number)
    for members in groups.values():
        rivals, prices, known = np.empty((len(members), merits.shape[1])), np.empty(len(members)), 0
        for number in members:
            cheaper = int(np.searchsorted(prices[:known], costs[number], side="left"))
            surpassed = (rivals[:cheaper] >= merits[number] + ahead[number]).all(axis=1).any()
            out[number] = surpassed and not stays[number]
            if may_replace[number] and not surpassed:
                rivals[known], prices[known] = merits[number], costs[number]
                known += 1
    return out


class Rows:
    """Rows of figures to hold against each other; most differ in the first few columns looked at."""

    def __init__(self, figures: np.ndarray) -> None:
        self._figures = np.ascontiguousarray(figures)
        self._few = np.ascontiguousarray(figures[:, :: max(1, figures.shape[1] // FEW_COLUMNS)])

    def is_equalled(self, row: int, rivals: np.ndarray) -> bool:
        """Tell whether one of some rows is nowhere less than a row."""
        likely = rivals[(self._few[rivals] >= self._few[row] - SAME).all(axis=1)]
        wanted = self._figures[row] - SAME
        return any(bool((self._figures[rival] >= wanted).all()) for rival in likely)


def _is_special(needs: Needs, shelf: Shelf, item: Item) -> bool:
    """Tell whether a device is asked for by name, or is there once: owned, or in a bundle."""
    return item.owned or item.id in needs.must or item.id in shelf.bundled


def _at_input_dbu(miked: Microphones, load_ohm: float) -> np.ndarray:
    """Return what 0 dB SPL gives at an input; of two microphones that differ in this, the order may turn once."""
    return miked.unloaded_dbu + divider_db(miked.output_ohm, load_ohm)


def _loads(inputs: Inputs, source_ohm: float) -> list[np.ndarray]:
    """Return the merits of an input's load: how high it is, and what it takes before it clips, from the softest source.

    A higher load lets more through, which the second one takes off again.
    """
    return [inputs.impedance_ohm, inputs.max_input_dbu - divider_db(source_ohm, inputs.impedance_ohm)]


def _highest_output_ohm(miked: Microphones | None, plugs: list[Voice]) -> float:
    boxes = [voice.box.impedance_ohm or BOXED_OUTPUT_OHM for voice in plugs if voice.box]
    return max([0.0, *boxes, *([float(miked.output_ohm.max())] if miked else [])])


def _above_aim_db(miked: Microphones, at_input_dbu: np.ndarray) -> np.ndarray:
    """Return the level at an input, above the aim, of the loudest of the parts, in dBu as the aim is in dBFS."""
    return np.max([heard.peak_spl - heard.aim_dbfs for heard in miked.heard.values()], axis=0) + at_input_dbu


def _at_loudest_dbu(miked: Microphones, at_input_dbu: np.ndarray) -> np.ndarray:
    """Return the most that may come to an input: at the lowest gain it is to pass neither the aim nor full scale."""
    within = np.max([heard.peak_spl + heard.band_db for heard in miked.heard.values()], axis=0) + at_input_dbu
    return np.maximum(within, _above_aim_db(miked, at_input_dbu))


def _loudest_miked_dbu(inputs: Inputs, miked: Microphones | None) -> float:
    if miked is None:
        return -math.inf
    return float(_above_aim_db(miked, _at_input_dbu(miked, float(inputs.impedance_ohm.max()))).max())


def _loudest_plugged_dbu(needs: Needs, plugs: list[Voice]) -> float:
    """Return the same of what is plugged in; a divider only takes away."""
    gains = [voice.box.gain_db or 0.0 for voice in plugs if voice.box]
    parts = [part.plug_levels.peak_dbu - part.aim_dbfs for part in needs.parts if part.is_plugged]
    return max(parts) + max([0.0, *gains]) if parts and plugs else -math.inf


def _most_lost_by_rounding(converter_dbfs: float, miked: Microphones) -> np.ndarray:
    """Return by how much the converter's noise may differ between two chains, as power of sound before a microphone."""
    more, less = (10 ** (sign * MOST_ROUNDED_DB / 10) for sign in (1, -1))
    before = [10 ** ((converter_dbfs + one.peak_spl - one.aim_dbfs) / 10) for one in miked.heard.values()]
    return np.max(before, axis=0) * (more - less)
