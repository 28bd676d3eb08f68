"""Listening at an input for a part, and keeping what is recorded there as a take."""

from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import Final

import msgspec
from django.conf import settings

from pneumen.core.errors import PneumenError, UnreadableFile
from pneumen.core.live import (
    ENDED,
    MOST_QUIET_S,
    RECORDING,
    Guide,
    Heard,
    Origin,
    Stream,
    again,
    pressed,
    set_by,
    stopped,
)
from pneumen.core.take import ALIKE, riding_in
from pneumen.web.audio.services import written
from pneumen.web.live.desk import DESK, LINE, MINUTE, TAKE, Listening, first_channel_of, left_over, write_wav
from pneumen.web.live.minute import keep_minute, steps_of
from pneumen.web.live.models import InputCheck
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of
from pneumen.web.take.models import Take
from pneumen.web.take.services import take_in_live
from pneumen.wording.live import check_refused, riding_told

LINE_QUIET_S: Final = 4.0
"""The three lines lie a second apart; so much silence ends them."""
DONE, KEY, GONE, FULL, TORN = "quiet", "key", "gone", "full", "torn"
"""What ended a take: five quiet seconds, a key, an input that went away, a full disk, a program that was killed."""


def open_input(part: Part, origin: Origin, *, counted: bool, quiet_s: float, purpose: str = TAKE) -> Listening:
    """Begin to listen for a part; its sound is sent under the key.

    Raises:
        PneumenError: for an input that cannot be.
    """
    keep_left_over()
    settings.LIVE.mkdir(mode=0o700, exist_ok=True)
    found = outcome_of(part)
    quiet_s = {TAKE: quiet_s, LINE: LINE_QUIET_S, MINUTE: MOST_QUIET_S}[purpose]
    state = Heard(sample_rate_hz=origin.sample_rate_hz, quiet_s=quiet_s)
    begun = {TAKE: state, LINE: pressed(state), MINUTE: pressed(pressed(state))}[purpose]
    checked = InputCheck.objects.mine(part.owner_id).filter(device=origin.device).first()
    one = Listening(
        owner_id=part.owner_id,
        part_id=part.pk,
        origin=replace(origin, hidden=checked.alters) if checked else origin,
        heard=begun,
        guide=Guide(steps=steps_of(part)) if purpose == MINUTE else None,
        purpose=purpose,
        stream=Stream(sample_rate_hz=origin.sample_rate_hz, counted=counted),
        school=part.school,
        set_by=set_by(found.setup.chain.gain_marking),
        planned_dbfs=found.levels.peak_dbfs,
    )
    DESK.put(one)
    return one


def checks_of(part: Part) -> list[InputCheck]:
    """Return the newest check of each input a part's person has checked."""
    newest: dict[str, InputCheck] = {}
    for row in InputCheck.objects.mine(part.owner_id):
        newest.setdefault(row.device, row)
    return list(newest.values())


def hear(one: Listening, first: int, body: bytes) -> None:
    """Hear a block; a take that is over with it is kept.

    Raises:
        PneumenError: for bytes that are no sound.
        OSError: where the disk is full; what was recorded so far is kept.
    """
    with one.guard:
        try:
            one.take_in(first, body)
        except OSError:
            _keep(one, FULL)
            raise
        if one.heard.phase == ENDED:
            _keep(one, DONE)


def press(one: Listening) -> None:
    """Do what the one key does next: arm, begin at once, end."""
    with one.guard:
        one.heard = pressed(one.heard)
        if one.heard.phase == ENDED:
            _keep(one, KEY)


def close_input(one: Listening, *, went_away: bool) -> None:
    """Stop listening; a take that is being recorded is kept as far as it goes."""
    with one.guard:
        if one.heard.phase == RECORDING:
            one.heard = stopped(one.heard)
            _keep(one, GONE if went_away else KEY)
    DESK.close(one.key)


def keep_left_over() -> None:
    """Keep the takes whose page, or whose program, went away while they were recorded."""
    for one in DESK.gone():
        close_input(one, went_away=True)
    for part_id, rate_hz, channels, path in left_over():
        origin = Origin(device="", channel=0, channels=channels, sample_rate_hz=rate_hz, ended_by=TORN)
        _kept(part_id, path, channels, origin)


def _keep(one: Listening, ended_by: str) -> None:
    """Keep what was recorded as a take of the part, and listen on."""
    path, origin, recorded = one.path, one.origin_of_take(ended_by), one.heard.kept_frames > 0
    one.heard = again(one.heard)
    one.next_take()  # whatever happens to this file, the next take is none of it
    if recorded and one.purpose == LINE:
        _check(one, path)
    elif recorded and one.purpose == MINUTE:
        _keep_minute(one, path, origin)
    elif recorded and (take := _kept(one.part_id, path, one.kept_channels, origin)):
        one.takes.append(take.number)


def _check(one: Listening, path: Path) -> None:
    """Tell from the line said softly, loudly, softly what the input does to the sound, and remember it."""
    try:
        found = riding_in(first_channel_of(path, one.kept_channels), one.origin.sample_rate_hz)
    except UnreadableFile as error:
        one.answer = check_refused(error)
    else:
        row = InputCheck(owner_id=one.owner_id, device=one.origin.device, result=msgspec.to_builtins(found))
        if ALIKE not in found.found or len(found.found) > 1:
            row.save()
            one.origin = replace(one.origin, hidden=row.alters)
        one.answer = riding_told(found)
    path.unlink(missing_ok=True)
    one.purpose = TAKE


def _keep_minute(one: Listening, path: Path, origin: Origin) -> None:
    """Keep the one-minute check, or say why it told nothing."""
    part = Part.objects.whole().filter(pk=one.part_id).first()
    if part is not None:
        try:
            with written(partial(write_wav, path, origin.sample_rate_hz, one.kept_channels)) as recording:
                one.check_id = keep_minute(part, recording, origin).pk
        except PneumenError as error:
            one.answer = check_refused(error)
    path.unlink(missing_ok=True)
    one.purpose, one.guide = TAKE, None


def _kept(part_id: int, path: Path, channels: int, origin: Origin) -> Take | None:
    """Make a take of samples that lie in a file; None where their part is gone."""
    part = Part.objects.whole().filter(pk=part_id).first()
    take = None
    if part is not None:
        with written(partial(write_wav, path, origin.sample_rate_hz, channels)) as recording:
            take = take_in_live(part, recording, origin)
    path.unlink(missing_ok=True)
    return take
