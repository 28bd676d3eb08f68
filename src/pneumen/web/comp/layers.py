"""Layers tightened to the lead: what each phrase lies off, what is shifted, and the file that is made of it."""

import hashlib
import json
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Final

import numpy as np
from django.db import transaction
from django.urls import reverse

from pneumen.core.comp import Comp, CompTake, Shift, join_takes, shifts_for, tightened
from pneumen.core.errors import Contradiction
from pneumen.core.performance import LATE_MS, layer_fit
from pneumen.core.take import LaidTake, PcmFile, codes_of, open_recording
from pneumen.core.verdict import Verdict
from pneumen.web.audio.services import keep, release, written
from pneumen.web.comp.ground import offsets_of, song_length_s, takes_on_sheet
from pneumen.web.comp.models import LayerTrack
from pneumen.web.job.services import Tell, queue_anew
from pneumen.web.part.models import Part
from pneumen.web.take.layers import LayerRow, layers_screen, lead_of
from pneumen.web.take.models import Layer, Take
from pneumen.wording.figures import clock, figure
from pneumen.wording.language import _

BITS: Final = 24
KNOWN_CLOCKS: Final = ("leak", "stamp", "ear")
"""Where both takes' offsets are known so surely, a lag they share is the performer's and not the recording's."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Tightening:
    """What would be shifted in a layer, and what it is laid to."""

    layer: Layer
    take: Take
    lead: Take
    offset_s: float
    drift_ppm: float | None
    shifts: tuple[Shift, ...]
    song_s: float

    @property
    def moved(self) -> int:
        return sum(shift.shift_ms != 0 for shift in self.shifts)

    def comp(self, rate_hz: int) -> Comp:
        checksum = self.take.audio.checksum if self.take.audio else ""
        take = CompTake(file=checksum, offset_s=self.offset_s, drift_ppm=self.drift_ppm)
        return tightened(take, self.shifts, rate_hz=rate_hz, song_s=self.song_s)

    @property
    def fingerprint(self) -> str:
        moved = [(round(one.span.start_s, 3), round(one.shift_ms, 2)) for one in self.shifts]
        laid = [self.offset_s, self.drift_ppm, self.song_s]
        told = json.dumps([self.take.audio and self.take.audio.checksum, *laid, moved])
        return hashlib.sha256(told.encode()).hexdigest()


def tightening_of(layer: Layer, layers: list[Layer]) -> Tightening | None:
    """Return what would be shifted in a layer; None where it has no lead, or the two share too little."""
    other = lead_of(layer, layers)
    if layer.take is None or other is None or other.take is None:
        return None
    part = layer.part
    takes = {take.pk: take for take in takes_on_sheet(part, heard=True)}
    own, lead = takes.get(layer.take_id or 0), takes.get(other.take_id or 0)
    if own is None or lead is None or own.pk == lead.pk:
        return None
    study, lead_study = own.to_study(), lead.to_study()
    fit = layer_fit(np.array(lead_study.onsets_s), np.array(study.onsets_s)) if study and lead_study else None
    if fit is None:
        return None
    every = list(takes.values())
    offsets = dict(zip(takes, offsets_of(part, every), strict=True))
    one, base = offsets[own.pk], offsets[lead.pk]
    shared_ms = 0.0
    if one.source in KNOWN_CLOCKS and base.source in KNOWN_CLOCKS:
        shared_ms = fit.tightness.lag_ms + 1000 * (one.offset_s - base.offset_s)
    song_s = song_length_s(part, every, list(offsets.values()))
    shifts = shifts_for(fit.phrases, shared_ms=shared_ms, lead_offset_s=base.offset_s, song_s=song_s)
    # Where no clock is shared, the layer is laid so that its middle note falls on the lead's.
    offset_s = one.offset_s if shared_ms else base.offset_s - fit.tightness.lag_ms / 1000
    return Tightening(
        layer=layer,
        take=own,
        lead=lead,
        offset_s=offset_s,
        drift_ppm=one.drift_ppm,
        shifts=shifts,
        song_s=song_s,
    )


@transaction.atomic
def tighten(layer: Layer) -> LayerTrack:
    """Have a layer tightened.

    Raises:
        Contradiction: where it has no lead to be laid to.
    """
    found = tightening_of(layer, list(layer.part.layers.select_related("take", "part")))
    if found is None or not found.shifts:
        raise Contradiction("layer", _("has no lead with the same notes: choose a take for both"))
    track, _rest = LayerTrack.objects.get_or_create(layer=layer, defaults={"owner": layer.owner})
    queue_anew(track)
    return track


def make_layer_track(track: LayerTrack, tell: Tell) -> None:
    """Render a tightened layer, as the worker does.

    Raises:
        UnreadableFile, Contradiction: where it cannot be.
    """
    layer = Layer.objects.select_related("part__song", "take").get(pk=track.layer_id)
    found = tightening_of(layer, list(layer.part.layers.select_related("take", "part")))
    if found is None or found.take.audio is None:
        raise Contradiction("layer", _("has no lead any more: choose a take for both"))
    comp = found.comp(layer.part.song.sample_rate_hz)
    with written(partial(_write, comp, found.take.audio.path)) as incoming, transaction.atomic():
        stored = LayerTrack.objects.filter(pk=track.pk).first()
        if stored is None:  # removed while it was made
            return
        before = stored.audio
        stored.audio, stored.made_of = keep(track.owner, incoming), found.fingerprint
        stored.shifts = [[round(one.span.start_s, 3), round(one.shift_ms, 1)] for one in found.shifts]
        stored.save()
        if before is not None and before.pk != stored.audio.pk:
            release(before)


def _write(comp: Comp, source: Path, target: Path) -> None:
    with open_recording(source) as recording:
        laid = {
            name: LaidTake(recording, rate_hz=comp.rate_hz, offset_s=take.offset_s, drift_ppm=take.drift_ppm or 0.0)
            for name, take in comp.takes.items()
        }
        joined = join_takes(comp, laid)
    with PcmFile(target, sample_rate_hz=comp.rate_hz, channels=len(joined.samples), bits=BITS) as file:
        file.write(codes_of(joined.samples, BITS))


@dataclass(frozen=True, slots=True, kw_only=True)
class LayerShown:
    """A layer with what would be shifted, and the file that was made."""

    row: LayerRow
    phrases: tuple[tuple[str, str, str], ...]
    moved: int
    state: str
    error: str
    sound: str
    fresh: bool
    verdict: Verdict


def shown_layers(part: Part) -> tuple[LayerShown, ...]:
    """Return every layer of a part that is laid to another, as the page shows it."""
    screen = layers_screen(part)
    layers = list(part.layers.select_related("take", "part"))
    tracks = {track.layer_id: track for track in LayerTrack.objects.filter(layer__part=part).prefetch_related("jobs")}
    found = []
    for row in screen.rows:
        tightening = tightening_of(next(one for one in layers if one.pk == row.layer.pk), layers)
        track = tracks.get(row.layer.pk)
        if row.layer.kind == "lead" or (tightening is None and track is None):
            continue
        job = next(iter(track.jobs.all()), None) if track else None
        found.append(
            LayerShown(
                row=row,
                phrases=tuple(_phrase(one) for one in tightening.shifts) if tightening else (),
                moved=tightening.moved if tightening else 0,
                state=job.state if job else "",
                error=job.error if job else "",
                sound=reverse("comp:layer-audio", args=[part.pk, row.layer.pk]) if track and track.audio_id else "",
                fresh=bool(track and tightening and track.made_of == tightening.fingerprint),
                verdict=row.verdict,
            )
        )
    return tuple(found)


def _phrase(one: Shift) -> tuple[str, str, str]:
    moved = (
        f"{figure(one.shift_ms, 0, sign=True)} ms"
        if one.shift_ms
        else _("stays: under {late_ms:.0f} ms").format(late_ms=LATE_MS)
    )
    return clock(one.span.start_s, 1), f"{figure(one.late_ms, 0, sign=True)} ms", moved
