"""The layers of a part: planned, filled with takes, and held against the layer they belong to."""

from dataclasses import dataclass

import numpy as np
from django.db import transaction

from pneumen.core.errors import Contradiction, UnknownName
from pneumen.core.part import loudest_of
from pneumen.core.performance import (
    ALIKE_HZ,
    LAYER_KINDS,
    PLACES,
    LayerFit,
    belongs_to,
    is_copy,
    layer_fit,
    likeness_of,
)
from pneumen.core.take import open_recording, resampled
from pneumen.core.verdict import Verdict
from pneumen.web.audio.models import AudioFile
from pneumen.web.hookup.services import mix_of
from pneumen.web.part.models import Backing, Part
from pneumen.web.take.lessons import check_section
from pneumen.web.take.models import Layer, Take
from pneumen.wording.language import _
from pneumen.wording.layers import PURPOSES, copy_told, fit_told, heard_told, missing_told, place_told

LONGEST_S = 600.0


@dataclass(frozen=True, slots=True, kw_only=True)
class LayerRow:
    """One layer on the page."""

    layer: Layer
    label: str
    purpose: str
    place: str
    told: str
    verdict: Verdict


@dataclass(frozen=True, slots=True, kw_only=True)
class LayersScreen:
    """All layers of a part, and the takes that may fill them."""

    sentence: str
    heard: str
    rows: tuple[LayerRow, ...]
    takes: tuple[Take, ...]
    kinds: tuple[tuple[str, str], ...]
    sections: tuple[str, ...]


@transaction.atomic
def add_layer(part: Part, kind: str, section: str) -> Layer:
    """Plan a layer.

    Raises:
        UnknownName, Contradiction: naming what cannot be.
    """
    if kind not in LAYER_KINDS:
        raise UnknownName("layer", kind, LAYER_KINDS)
    check_section(part, section)
    if part.layers.filter(kind=kind, section=section).exists():
        raise Contradiction("layer", _("is planned there already"))
    return Layer.objects.create(owner=part.owner, part=part, kind=kind, section=section)


@transaction.atomic
def plan_usual(part: Part) -> None:
    """Plan what most songs have: a lead all through, and doubles left and right where it is loudest."""
    loudest = loudest_of(part.core_sections)
    section = "" if loudest is None else part.core_sections[loudest].name
    wanted = [("lead", ""), ("double-left", section), ("double-right", section)]
    for kind, where in wanted:
        Layer.objects.get_or_create(part=part, kind=kind, section=where, defaults={"owner": part.owner})


@transaction.atomic
def fill_layer(layer: Layer, number: int | None) -> None:
    """Choose a take for a layer, or none.

    Raises:
        UnknownName: for a take that is not there or not measured.
    """
    take = None
    if number is not None:
        take = layer.part.takes.exclude(judged="").filter(number=number).first()
        if take is None:
            raise UnknownName("take", str(number), tuple(map(str, layer.part.takes.values_list("number", flat=True))))
    layer.take = take
    layer.save(update_fields=["take"])
    _compare_anew(layer.part)


@transaction.atomic
def hear_layer(layer: Layer, *, heard: bool) -> None:
    """Have a layer play in the headphones while the part is recorded, or the song's backing again.

    Raises:
        Contradiction: for a layer that is not recorded yet.
    """
    if heard and not (layer.take and layer.take.audio):
        raise Contradiction("layer", _("is not recorded yet: choose its take first"))
    layer.part.layers.filter(in_headphones=True).update(in_headphones=False)
    layer.in_headphones = heard
    layer.save(update_fields=["in_headphones"])


def heard_layer(part: Part) -> Layer | None:
    """Return the layer that plays in the headphones while a part is recorded; None where the song's backing does."""
    layer = part.layers.filter(in_headphones=True).select_related("take__audio").first()
    return layer if layer and layer.take and layer.take.put_away_day is None and layer.take.audio else None


def heard_in_headphones(part: Part) -> AudioFile | None:
    """Return what plays in the headphones while a part is recorded, where anything does."""
    layer = heard_layer(part)
    if layer and layer.take:
        return layer.take.audio
    backing = Backing.objects.filter(song=part.song_id).select_related("audio").first()
    return backing.audio if backing and mix_of(part).backing_db_spl is not None else None


def remove_layer(layer: Layer) -> None:
    layer.delete()
    _compare_anew(layer.part)


def _compare_anew(part: Part) -> None:
    """Hold every layer against the one it belongs to; what was compared before with another take counts no more."""
    layers = list(part.layers.select_related("take__audio"))
    for layer in layers:
        other = lead_of(layer, layers)
        likeness = None
        if layer.take and other and other.take:
            likeness = 1.0 if other.take_id == layer.take_id else _likeness(layer.take, other.take)
        if likeness != layer.likeness:
            layer.likeness = likeness
            layer.save(update_fields=["likeness"])


def lead_of(layer: Layer, layers: list[Layer]) -> Layer | None:
    """Return the layer one is held against: of its own section, or the one that goes all through."""
    near = [one for one in layers if one.section in (layer.section, "") and one.pk != layer.pk]
    kind = belongs_to(layer.kind, tuple(one.kind for one in (*near, layer)))
    found = [one for one in near if one.kind == kind]
    return max(found, key=lambda one: one.section == layer.section, default=None)


def _likeness(one: Take, other: Take) -> float | None:
    if one.audio is None or other.audio is None:
        return None
    waves = []
    for audio in (one.audio, other.audio):
        with open_recording(audio.path) as recording:
            waves.append(resampled(recording, ALIKE_HZ, longest_s=LONGEST_S))
    return likeness_of(*waves)


def layers_screen(part: Part) -> LayersScreen:
    """Return what the page shows."""
    layers = list(part.layers.select_related("take"))
    rows = tuple(_row(layer, layers) for layer in layers)
    missing = [(PURPOSES[layer.kind][0], layer.section) for layer in layers if not _is_there(layer)]
    heard = heard_layer(part)
    return LayersScreen(
        sentence=missing_told(len(layers), missing),
        heard=heard_told((PURPOSES[heard.kind][0], heard.take.number) if heard and heard.take else None),
        rows=rows,
        takes=tuple(part.takes.exclude(judged="").only("number", "section", "part")[:200]),
        kinds=tuple((kind, PURPOSES[kind][0]) for kind in LAYER_KINDS),
        sections=tuple(section.name for section in part.core_sections),
    )


def _is_there(layer: Layer) -> bool:
    """Return whether a layer is recorded; a copy of another one is none."""
    return (
        layer.take is not None
        and layer.take.put_away_day is None
        and not (layer.likeness is not None and is_copy(layer.likeness))
    )


def _row(layer: Layer, layers: list[Layer]) -> LayerRow:
    label, purpose = PURPOSES[layer.kind]
    told, verdict = _told(layer, lead_of(layer, layers))
    return LayerRow(
        layer=layer, label=label, purpose=purpose, place=place_told(PLACES[layer.kind]), told=told, verdict=verdict
    )


def _told(layer: Layer, other: Layer | None) -> tuple[str, Verdict]:
    if layer.take is None or other is None or other.take is None:
        return "", Verdict.OPEN
    if layer.likeness is not None and is_copy(layer.likeness):
        return copy_told(other.take.number), Verdict.BAKED_IN
    fit = _fit(layer.take, other.take)
    if fit is None:
        return "", Verdict.OPEN
    return fit_told(fit, other.take.number), Verdict.WATCH if fit.loose or fit.off else Verdict.CLEAR


def _fit(take: Take, lead: Take) -> LayerFit | None:
    own, other = take.to_study(), lead.to_study()
    if own is None or other is None:
        return None
    return layer_fit(np.array(other.onsets_s), np.array(own.onsets_s))
