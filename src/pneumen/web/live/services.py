"""Listening at an input for a part, and keeping what is recorded there as a take."""

from functools import partial
from pathlib import Path

from django.conf import settings

from pneumen.core.live import ENDED, RECORDING, Heard, Origin, Stream, again, pressed, set_by, stopped
from pneumen.web.audio.services import written
from pneumen.web.live.desk import DESK, Listening, left_over, write_wav
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of
from pneumen.web.take.models import Take
from pneumen.web.take.services import take_in_live

DONE, KEY, GONE, FULL, TORN = "quiet", "key", "gone", "full", "torn"
"""What ended a take: five quiet seconds, a key, an input that went away, a full disk, a program that was killed."""


def open_input(part: Part, origin: Origin, *, counted: bool, quiet_s: float) -> Listening:
    """Begin to listen for a part; its sound is sent under the key.

    Raises:
        PneumenError: for an input that cannot be.
    """
    keep_left_over()
    settings.LIVE.mkdir(mode=0o700, exist_ok=True)
    found = outcome_of(part)
    one = Listening(
        owner_id=part.owner_id,
        part_id=part.pk,
        origin=origin,
        heard=Heard(sample_rate_hz=origin.sample_rate_hz, quiet_s=quiet_s),
        stream=Stream(sample_rate_hz=origin.sample_rate_hz, counted=counted),
        school=part.school,
        set_by=set_by(found.setup.chain.gain_marking),
        planned_dbfs=found.levels.peak_dbfs,
    )
    DESK.put(one)
    return one


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
    if recorded and (take := _kept(one.part_id, path, one.kept_channels, origin)):
        one.takes.append(take.number)


def _kept(part_id: int, path: Path, channels: int, origin: Origin) -> Take | None:
    """Make a take of samples that lie in a file; None where their part is gone."""
    part = Part.objects.whole().filter(pk=part_id).first()
    take = None
    if part is not None:
        with written(partial(write_wav, path, origin.sample_rate_hz, channels)) as recording:
            take = take_in_live(part, recording, origin)
    path.unlink(missing_ok=True)
    return take
