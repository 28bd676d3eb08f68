"""A file that holds several passes, cut into a take each; the file itself stays as it is."""

from collections.abc import Sequence
from contextlib import ExitStack
from functools import partial
from pathlib import Path
from typing import Final

from django.db import transaction
from django.db.models import Max

from pneumen.core.errors import Contradiction, given
from pneumen.core.take import Pass, PcmFile, codes_of, open_recording, passes_in
from pneumen.web.audio.services import Incoming, keep, samples_of, written
from pneumen.web.job.services import queue
from pneumen.web.take.models import Take
from pneumen.wording.language import _

BITS: Final = 24
BLOCK: Final = 1 << 18
MOST_NAME: Final = 180


def passes_of(take: Take) -> tuple[Pass, ...]:
    """Return the passes a take's file holds; none where it holds one only."""
    trace = take.trace
    return () if trace is None else passes_in(trace)


def cut_into_passes(take: Take) -> list[Take]:
    """Make a take of each pass of a file, recorded as the file was; the whole file stays a take of its own.

    Raises:
        Contradiction: where it holds no several passes.
    """
    found = passes_of(take)
    if not found:
        raise Contradiction("file", _("holds one pass only: between passes leave four seconds of silence"))
    source = given("recording", take.audio).path
    with ExitStack() as stack:
        pieces = [stack.enter_context(written(partial(_cut, source, one))) for one in found]
        return _stored(take, found, pieces)


@transaction.atomic
def _stored(take: Take, found: Sequence[Pass], pieces: Sequence[Incoming]) -> list[Take]:
    """Store the pieces; to be measured like any take."""
    last = Take.everything.filter(part=take.part).aggregate(Max("number"))["number__max"] or 0
    made = []
    for number, (one, piece) in enumerate(zip(found, pieces, strict=True), start=1):
        stamp = None if take.time_reference_s is None else take.time_reference_s + one.start_s
        row = Take.objects.create(
            owner=take.owner,
            part=take.part,
            number=last + number,
            original_name=_("{original_name}, pass {number}").format(
                original_name=take.original_name[:MOST_NAME], number=number
            ),
            audio=keep(take.owner, piece),
            snapshot=take.snapshot,
            sitting=take.sitting,
            backing=take.backing,
            recorded=take.recorded,
            recorded_at=take.recorded_at,
            time_reference_s=stamp,
            section=take.section,
        )
        queue(row, cost=samples_of(given("recording", row.audio)))
        made.append(row)
    return made


def _cut(source: Path, one: Pass, target: Path) -> None:
    """Write one pass: every sample as it is, to half a 24-bit step."""
    with open_recording(source) as recording:
        rate_hz = recording.sample_rate_hz
        first, stop = round(one.start_s * rate_hz), min(round(one.end_s * rate_hz), recording.frames)
        with PcmFile(target, sample_rate_hz=rate_hz, channels=recording.channels, bits=BITS) as file:
            for start in range(first, stop, BLOCK):
                file.write(codes_of(recording.stretches(start, min(start + BLOCK, stop)), BITS))
