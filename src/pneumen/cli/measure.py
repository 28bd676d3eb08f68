"""pneumen measure FILE...: what a recorded file holds."""

import os
from functools import partial

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # before NumPy loads: its matrices here are too small for threads

from pneumen.cli.common import Parser, fail, in_words, plain, print_json, print_rows, quiet_libraries, tell, told
from pneumen.core.errors import PneumenError
from pneumen.core.memory import keep_freed_memory
from pneumen.core.part import SOURCES
from pneumen.core.take import ANYTHING, Measurement, Played, Recording, measure, open_recording
from pneumen.wording.language import _
from pneumen.wording.noise import noise_told
from pneumen.wording.takes import advice_on_take, checked_told, why_not_checked


def run(arguments: list[str]) -> int:
    parser = Parser("measure", _("What a recorded file holds: WAV, AIFF, FLAC, Ogg, MP3."))
    parser.add_argument("files", metavar="FILE", nargs="+")
    parser.add_argument("--source", metavar="NAME", help=_("what was recorded, as kit --sources lists it"))
    parser.add_argument("--backing", metavar="FILE", help=_("what was heard while recording, to look for its leak"))
    options = parser.parse_args(arguments)
    if options.source is not None and options.source not in SOURCES:
        fail(
            _("--source: must be one of {sources}; was {source!r}").format(
                sources=", ".join(SOURCES), source=options.source
            )
        )
    keep_freed_memory()
    played = ANYTHING if options.source is None else Played.of(SOURCES[options.source])
    if options.backing is not None:
        _check_backing(options.backing)
    measured, failed = [], False
    for path in options.files:
        try:
            with quiet_libraries(), open_recording(path) as recording:
                measured.append(_measured(recording, played, options.backing, path))
        except PneumenError as error:
            tell(f"{path}: {error}")
            failed = True
    if options.text:
        for measurement in measured:
            _print_text(measurement)
    elif measured:
        documents = [document(measurement) for measurement in measured]
        print_json(documents if len(options.files) > 1 else documents[0])
    return 2 if failed else 0


def _check_backing(path: str) -> None:
    try:
        with quiet_libraries(), open_recording(path):
            pass
    except PneumenError as error:
        fail(f"--backing: {path}: {error}")


def _measured(recording: Recording, played: Played, backing: str | None, path: str) -> Measurement:
    # Where there is a core to spare it takes half of the work.
    spare = hasattr(os, "sched_getaffinity") and len(os.sched_getaffinity(0)) > 1
    again = partial(open_recording, path) if spare else None
    if backing is None:
        return measure(recording, played=played, again=again)
    with open_recording(backing) as heard:
        return measure(recording, played=played, backing=heard, again=again)


def document(measurement: Measurement) -> dict[str, object]:
    """Return a measurement as the contract's JSON: truncated only where it is true, no parts of the noise."""
    value = plain(measurement)
    del value["noise"]["parts"], value["backing_lag_s"], value["backing_lag_band_ms"], value["drift_ppm"]
    keys = ("kind", "start_s", "end_s", "value", "unit", "verdict")
    value["findings"] = [told(finding, advice_on_take(finding), *keys) for finding in measurement.findings]
    value["not_checked"] = [{"kind": one.kind, "why": why_not_checked(one)} for one in measurement.not_checked]
    value["verdict"] = value.pop("verdict")
    if not value["format"]["truncated"]:
        del value["format"]["truncated"]
    return value


def _print_text(measurement: Measurement) -> None:
    level, noise, shape = measurement.level, measurement.noise, measurement.format
    cut = _(", cut short") if shape.truncated else ""
    print(f"{measurement.file}: {measurement.verdict}")
    print_rows(
        [
            ("format", f"{shape.container} {shape.encoding}, {shape.sample_rate_hz} Hz, {measurement.channels_say}"),
            ("length", f"{shape.duration_s:.2f} s{cut}"),
            (_("sample peak"), in_words(level.sample_peak_dbfs, "dBFS", missing="silent")),
            (_("true peak"), in_words(level.true_peak_dbtp, "dBTP", missing="silent")),
            (_("active RMS"), in_words(level.active_rms_dbfs, "dBFS", missing="silent")),
            ("loudness", in_words(level.loudness_lufs, "LUFS")),
            (_("noise (A)"), in_words(noise.floor_dbfs_a, "dBFS", missing=_("no pause to measure it in"))),
            (_("clean range"), in_words(noise.clean_range_db, "dB")),
        ]
    )
    for part in noise.parts:
        print(f"  {noise_told(part)}")
    print(f"  {checked_told(measurement)}")
    for finding in measurement.findings:
        print(f"  {finding.start_s:.2f} s  {finding.kind} ({finding.verdict}): {advice_on_take(finding)}")
