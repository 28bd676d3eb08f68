"""pneumen loopback PLAYED RECORDED: how late a played file comes back."""

from collections.abc import Iterator

import numpy as np

from pneumen.cli.common import Parser, fail, plain, print_json, quiet_libraries
from pneumen.core.delay import Loop, loop_of, recording_clips
from pneumen.core.errors import PneumenError
from pneumen.core.take import open_recording
from pneumen.wording.language import _

DESCRIPTION = _("""How late a played file comes back in a recording of it, its polarity, and how far two clocks differ.

Play it from an output, take a lead to an input, 48 V off, the gain all the way down, and record. offset_samples is
positive where the recording is late, at the start of the file. drift_ppm is positive where the recorder's clock is
fast, null where the file is too short to tell. The loudest channel of each file is read, ten minutes at most.
""")
LONGEST_S = 600.0


def run(arguments: list[str]) -> int:
    parser = Parser("loopback", DESCRIPTION)
    parser.add_argument("played", metavar="PLAYED.wav", help=_("the file that was played"))
    parser.add_argument("recorded", metavar="RECORDED.wav", help=_("the recording of it"))
    options = parser.parse_args(arguments)
    played, rate_hz = _read(options.played)
    recorded, other_hz = _read(options.recorded)
    if rate_hz != other_hz:
        rates = _("is at {other_hz} Hz, what was played at {rate_hz} Hz").format(other_hz=other_hz, rate_hz=rate_hz)
        fail(_("{recorded}: {rates}: record at the rate that is played").format(recorded=options.recorded, rates=rates))

    try:
        loop = loop_of(played, recorded, rate_hz)
    except PneumenError as error:
        fail(f"{options.recorded}: {error}")
    notes = list(_notes(loop, recorded))
    if options.text:
        _print_text(loop, notes)
    else:
        print_json({**plain(loop), "notes": notes})
    return 0


def _read(path: str) -> tuple[np.ndarray, int]:
    try:
        with quiet_libraries(), open_recording(path) as recording:
            return recording.loudest_channel(LONGEST_S), recording.sample_rate_hz
    except PneumenError as error:
        fail(f"{path}: {error}")


def _notes(loop: Loop, recorded: np.ndarray) -> Iterator[str]:
    if loop.offset_samples < 0:
        yield _("the recording is early: were the two files swapped, or does the program compensate too much?")
    if recording_clips(recorded):
        yield _("the recording clips: turn the output down and measure again")


def _print_text(loop: Loop, notes: list[str]) -> None:
    word = "late" if loop.offset_samples >= 0 else "early"
    print(
        _("{offset_samples:.1f} samples ({offset_ms:.2f} ms) {word}, polarity {polarity}.").format(
            offset_samples=abs(loop.offset_samples), offset_ms=abs(loop.offset_ms), word=word, polarity=loop.polarity
        )
    )
    drift = _("the file is too short to tell") if loop.drift_ppm is None else f"{loop.drift_ppm:+.1f} ppm"
    print(_("Clocks: {drift}. Confidence {confidence:.2f}.").format(drift=drift, confidence=loop.confidence))
    for note in notes:
        print(_("Note: {note}.").format(note=note))
