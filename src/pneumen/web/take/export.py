"""The log of a part in open formats: CSV for a table, JSON with everything that was measured."""

import csv
import io
from collections.abc import Iterable, Iterator
from typing import Any, Final

from pneumen.core.take import MARKED, kinds_in
from pneumen.web.part.models import Part
from pneumen.web.take.log import logged_of
from pneumen.web.take.models import PLACED, Take

FORMAT: Final = "pneumen-log"
VERSION: Final = 1
COLUMNS: Final = (
    "take",
    "session",
    "recorded_at",
    "simulated",
    "kind",
    "section",
    *MARKED,
    "remark",
    "gear",
    "distance_m",
    *PLACED,
    "gain_db",
    "buffer",
    "file",
    "sha256",
    "duration_s",
    "sample_peak_dbfs",
    "active_rms_dbfs",
    "loudness_lufs",
    "floor_dbfs_a",
    "clean_range_db",
    "verdict",
    "findings",
)
FORMULA: Final = ("=", "+", "-", "@", "\t", "\r")
"""Text that begins so would be worked out by a spreadsheet; an apostrophe keeps it text."""
AT_ONCE: Final = 200


def log_as_csv(part: Part) -> Iterator[str]:
    """Yield the log line by line: a header, then a take each, the oldest first."""
    yield _line(COLUMNS)
    for row in _rows(part):
        yield _line(_cell(row[name]) for name in COLUMNS)


def log_as_object(part: Part) -> dict[str, Any]:
    """Return the log as JSON holds it: units stand in the names, empty is null."""
    takes = [row | {"measured": measured} for row, measured in _rows_and_measured(part)]
    return {"format": FORMAT, "version": VERSION, "song": part.song.name, "part": part.name, "takes": takes}


def _rows(part: Part) -> Iterator[dict[str, Any]]:
    return (row for row, _ in _rows_and_measured(part))


def _rows_and_measured(part: Part) -> Iterator[tuple[dict[str, Any], Any]]:
    kinds = kinds_in(logged_of(part))
    takes = part.takes.select_related("sitting", "audio").defer("peaks", "correction", "captured").order_by("number")
    for take in takes.iterator(chunk_size=AT_ONCE):
        yield _row(take, kinds.get(take.number, take.kind)), take.measurement


def _row(take: Take, kind: str) -> dict[str, Any]:
    settings, measured = take.settings, take.measurement or {}
    level, noise, shape = (measured.get(name, {}) for name in ("level", "noise", "format"))
    return {
        "take": take.number,
        "session": take.sitting and take.sitting.number,
        "recorded_at": take.when.isoformat(timespec="seconds"),
        "simulated": take.simulated,
        "kind": kind,
        "section": take.section,
        **{name: getattr(take, name) for name in MARKED},
        "remark": take.remark,
        "gear": settings.gear,
        "distance_m": settings.distance_m,
        **{name: getattr(settings, name) for name in PLACED},
        "gain_db": settings.gain_db,
        "buffer": settings.buffer,
        "file": take.original_name,
        "sha256": take.audio and take.audio.checksum,
        "duration_s": shape.get("duration_s"),
        "sample_peak_dbfs": level.get("sample_peak_dbfs"),
        "active_rms_dbfs": level.get("active_rms_dbfs"),
        "loudness_lufs": level.get("loudness_lufs"),
        "floor_dbfs_a": noise.get("floor_dbfs_a"),
        "clean_range_db": noise.get("clean_range_db"),
        "verdict": take.judged,
        "findings": " ".join(_findings(measured)),
    }


def _findings(measured: dict[str, Any]) -> Iterator[str]:
    for one in measured.get("findings", ()):
        yield f"{one['kind']}@{one['start_s']:.2f}"


def _cell(value: object) -> object:
    return f"'{value}" if isinstance(value, str) and value.startswith(FORMULA) else value


def _line(cells: Iterable[object]) -> str:
    line = io.StringIO()
    csv.writer(line).writerow(list(cells))
    return line.getvalue()
