"""Blind trials: proposing spots, taking phrases in or having them played, cutting and matching, choosing."""

import random
import zlib
from collections.abc import Sequence
from contextlib import ExitStack
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path
from typing import Any

import msgspec
import numpy as np
import soundfile
from django.db import transaction
from django.db.models import Max

from pneumen.core.errors import Contradiction, UnreadableFile, given
from pneumen.core.forecast import line_of
from pneumen.core.levels import db_to_ratio
from pneumen.core.part import guessed_levels
from pneumen.core.place import DISTANCE_SCHOOLS
from pneumen.core.rig import Scene, air_of, draw_truth, simulate
from pneumen.core.take import (
    MOST_SPOTS,
    PhraseMeasure,
    matching_gains_db,
    measure_phrase,
    open_recording,
    phrases_between_claps,
    whole_phrase,
)
from pneumen.web.audio.models import AudioFile
from pneumen.web.audio.services import Incoming, Sent, keep, received, release, written
from pneumen.web.job.services import Tell, queue
from pneumen.web.lengths import require_near
from pneumen.web.part.models import YOURS, Part
from pneumen.web.place.models import Trial, TrialSpot
from pneumen.web.place.services import zones_of
from pneumen.web.settle import settle
from pneumen.wording.language import _
from pneumen.wording.lengths import near

PHRASE_S = 6.0
LONGEST_S = 600.0
PEAK_DBFS = -10.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Proposal:
    """A spot that can be tried: where the microphone would stand."""

    slug: str
    label: str
    distance_m: float
    zone: str = ""
    aside_deg: float = 0.0
    turned_deg: float = 0.0
    above_m: float = 0.0
    bright: float = 0.0


def proposals_for(part: Part) -> tuple[Proposal, ...]:
    """Return the spots worth trying: as it stands, the zones of the instrument, the schools of a voice."""
    setup = settle(part)
    placement, zones_there = setup.placement, zones_of(part)
    now = Proposal(
        slug="here",
        label=_("As it stands"),
        distance_m=placement.distance_m,
        zone=setup.zone.slug if setup.zone else "",
        aside_deg=placement.aside_deg,
        turned_deg=placement.turned_deg,
        above_m=placement.rise_m,
        bright=setup.zone.bright if setup.zone else 0.0,
    )
    zones = tuple(
        Proposal(
            slug=one.zone.slug,
            label=one.zone.label,
            distance_m=one.distance_m,
            zone=one.zone.slug,
            aside_deg=one.aside_deg,
            above_m=one.above_m,
            bright=one.zone.bright,
        )
        for one in zones_there
    )
    facts = part.source_facts
    schools: tuple[Proposal, ...] = ()
    if facts.group == "voice":
        schools = tuple(
            Proposal(slug=f"school-{number}", label=one.label, distance_m=round((one.low_m * one.high_m) ** 0.5, 3))
            for number, one in enumerate(DISTANCE_SCHOOLS)
            if one.high_m > facts.nearest_m and one.low_m < facts.farthest_m
        )
    return now, *zones, *schools


def spots_from(part: Part, wanted: Sequence[tuple[str, float]]) -> list[Proposal]:
    """Return the proposals chosen, each at the distance given.

    Raises:
        Contradiction: for fewer than two spots, or too many.
        OutOfRange: for a distance the source is not recorded from.
    """
    offered = {one.slug: one for one in proposals_for(part)}
    facts, spots = part.source_facts, []
    for slug, distance_m in wanted:
        if slug in offered:
            require_near(
                _("distance of {label}").format(label=offered[slug].label),
                distance_m,
                facts.nearest_m,
                facts.farthest_m,
            )
            spots.append(replace(offered[slug], distance_m=distance_m))
    if not 2 <= len(spots) <= MOST_SPOTS:
        raise Contradiction(
            "spots",
            _("to try must be two to {most_spots}; ticked were {spots}").format(
                most_spots=MOST_SPOTS, spots=len(spots)
            ),
        )
    return spots


@transaction.atomic
def play_trial(part: Part, spots: Sequence[Proposal]) -> Trial:
    """Queue a trial that the stand-in plays, phrase by phrase."""
    return _new_trial(part, spots, simulated=True)


def take_in_trial(part: Part, spots: Sequence[Proposal], uploads: Sequence[tuple[str, Sent]]) -> Trial:
    """Store recordings of a trial and queue it: one file with a clap before each phrase, or one file a spot.

    Raises:
        Contradiction: for another number of files than one, or one a spot.
        UnreadableFile: naming a file that is no recording.
    """
    if len(uploads) not in (1, len(spots)):
        raise Contradiction(
            "files", _("must be one with claps between, or {spots}, one a spot in their order").format(spots=len(spots))
        )
    with ExitStack() as stack:
        sent = [(name, stack.enter_context(received(one))) for name, one in uploads]
        with transaction.atomic():
            audio = [_kept(part, name, incoming) for name, incoming in sent]
            if len(audio) == 1:
                return _new_trial(part, spots, audio=audio[0])
            return _new_trial(part, spots, raw=audio)


def _kept(part: Part, name: str, incoming: Incoming) -> AudioFile:
    try:
        return keep(part.owner, incoming)
    except UnreadableFile as error:
        raise UnreadableFile(f"{name}: {error.reason}", error.remedy) from None


@transaction.atomic
def _new_trial(part: Part, spots: Sequence[Proposal], raw: Sequence[AudioFile] = (), **fields: object) -> Trial:
    last = part.trials.aggregate(Max("number"))["number__max"] or 0
    trial = Trial.objects.create(owner=part.owner, part=part, number=last + 1, **fields)
    order = random.SystemRandom().sample(range(len(spots)), len(spots))
    for position, spot in enumerate(spots):
        where = {name: getattr(spot, name) for name in Proposal.__dataclass_fields__ if name != "slug"}
        TrialSpot.objects.create(
            owner=part.owner,
            trial=trial,
            position=position,
            heard_at=order[position],
            raw=raw[position] if raw else None,
            **where,
        )
    queue(trial)
    return trial


def cut_trial(trial: Trial, tell: Tell) -> None:
    """Bring all phrases to one loudness and keep what they measured.

    Raises:
        UnreadableFile: where there are not as many phrases as spots, or they have no common rate.
    """
    spots = list(trial.spots.select_related("raw"))
    phrases, rate_hz = _phrases(trial, spots, tell)
    measured = [measure_phrase(samples, rate_hz) for samples, _rest in phrases]
    matched = matching_gains_db(measured)
    with ExitStack() as stack:
        recordings = [
            stack.enter_context(written(partial(_write, samples * db_to_ratio(gain), rate_hz)))
            for (samples, _rest), gain in zip(phrases, matched, strict=True)
        ]
        levels = zip(measured, phrases, strict=True)
        measured = [replace(one, level_dbfs=one.level_dbfs + turned_db) for one, (_rest, turned_db) in levels]
        _finish(trial, spots, list(zip(measured, matched, recordings, strict=True)))


@transaction.atomic
def _finish(trial: Trial, spots: list[TrialSpot], rows: list[tuple[PhraseMeasure, float, Incoming]]) -> None:
    if not Trial.objects.filter(pk=trial.pk).update(audio=None):  # deleted while it was cut
        return
    raw = [trial.audio, *(spot.raw for spot in spots)]
    for spot, (measured, matched_db, recording) in zip(spots, rows, strict=True):
        spot.measured, spot.matched_db = msgspec.to_builtins(measured), matched_db
        spot.audio, spot.raw = keep(trial.owner, recording), None
        spot.save(update_fields=["measured", "matched_db", "audio", "raw"])
    release(*raw)


Cut = tuple[np.ndarray, float]
"""Samples, and by how many dB the gain was turned down for them."""


def _phrases(trial: Trial, spots: list[TrialSpot], tell: Tell) -> tuple[list[Cut], int]:
    """Return the spots' phrases, cut, at one rate."""
    if trial.simulated:
        return _played(trial, spots, tell), trial.part.song.sample_rate_hz
    if trial.audio:
        samples, rate_hz = _read(trial.audio)
        found = phrases_between_claps(samples, rate_hz)
        if len(found) != len(spots):
            raise UnreadableFile(
                _("{found} phrases lie between the claps, {spots} spots were ticked").format(
                    found=len(found), spots=len(spots)
                ),
                _("record again, or tick as many"),
            )
        return [(samples[start:end], 0.0) for start, end in found], rate_hz
    phrases, rates = [], set()
    for spot in spots:
        samples, rate_hz = _read(given("recording", spot.raw))
        start, end = whole_phrase(samples, rate_hz)
        phrases.append((samples[start:end], 0.0))
        rates.add(rate_hz)
    if len(rates) > 1:
        raise UnreadableFile(_("the files have different sample rates"), _("export them all at one rate"))
    return phrases, rates.pop()


def _read(audio: AudioFile) -> tuple[np.ndarray, int]:
    with open_recording(audio.path) as recording:
        return recording.loudest_channel(LONGEST_S), recording.sample_rate_hz


def _played(trial: Trial, spots: list[TrialSpot], tell: Tell) -> list[Cut]:
    """Let the stand-in play one phrase at every spot of this room, with the gain each spot allows."""
    part = trial.part
    box, gain_db = part.song.room.box, settle(part).gain_db
    guess = guessed_levels(part.source, part.loudness)
    seed = zlib.crc32(f"{part.song.name}/{part.name}/{part.source}".encode())
    phrases = []
    for number, spot in enumerate(spots):
        where: dict[str, Any] = {"distance_m": spot.distance_m, "above_m": spot.above_m, "aside_deg": spot.aside_deg}
        there = settle(part, gain_db=gain_db, turned_deg=0.0, **where)
        here, believed = there.placement, replace(there.performance, levels=guess.levels)
        setup = line_of(replace(there, performance=believed))  # the air turns it
        air = air_of(
            box,
            here.mouth_m,
            here.microphone_m,
            pattern=there.pattern,
            turned_deg=spot.turned_deg,
            bright=spot.bright,
            rate_hz=part.song.sample_rate_hz,
            seed=seed,
        )
        scene = Scene(
            chain=setup,
            source=part.source,
            duration_s=PHRASE_S,
            sample_rate_hz=part.song.sample_rate_hz,
            seed=seed + trial.number,
            truth=draw_truth(seed, trial.number),
        )
        take = simulate(scene, air, headroom_dbfs=PEAK_DBFS)
        phrases.append((take.samples, take.turned_down_db))
        tell((number + 1) / (len(spots) + 1))
    return phrases


def _write(samples: np.ndarray, rate_hz: int, path: Path) -> None:
    soundfile.write(path, samples, rate_hz, subtype="PCM_24", format="WAV")


@transaction.atomic
def choose(trial: Trial, heard_at: int) -> TrialSpot:
    """Take the spot the ear chose: it is revealed, and the part's microphone stands there from now on.

    Raises:
        Contradiction: where it is not ready, or was chosen already.
    """
    spot = trial.spots.filter(heard_at=heard_at).first()
    if trial.status != Trial.DONE or spot is None:
        raise Contradiction("trial", _("has no such phrase to choose"))
    if trial.chosen_id is None:
        trial.chosen = spot
        trial.save(update_fields=["chosen"])
    chosen = trial.chosen or spot
    stand_at(trial.part, chosen)
    return chosen


@transaction.atomic
def stand_at(part: Part, spot: TrialSpot) -> None:
    names = ("distance_m", "zone", "aside_deg", "turned_deg", "above_m")
    for name in names:
        setattr(part, name, getattr(spot, name))
    part.place_origin = YOURS
    part.save(update_fields=[*names, "place_origin"])


@transaction.atomic
def delete_trial(trial: Trial) -> None:
    recordings = [trial.audio, *(one for spot in trial.spots.all() for one in (spot.audio, spot.raw))]
    trial.delete()
    release(*recordings)


def told_of(trial: Trial) -> str:
    """Say in a line how a trial stands."""
    if trial.chosen:
        return f"{trial.chosen.label}, {near(trial.chosen.distance_m)}"
    return {"done": _("to be heard"), "failed": _("could not be cut")}.get(trial.status, _("being made ready"))
