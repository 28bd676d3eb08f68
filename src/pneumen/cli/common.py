"""What every command does alike: flags, input, JSON out, and faults told in one line."""

import argparse
import dataclasses
import json
import os
import re
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any, NoReturn

from pneumen.core.verdict import Verdict
from pneumen.wording.language import _

DECIMALS = 6
MINUS = "\N{MINUS SIGN}"


class Parser(argparse.ArgumentParser):
    """Tells a bad flag the way every other fault is told: `pneumen: --flag: what is wrong`."""

    def __init__(self, command: str, description: str, **more: Any) -> None:
        super().__init__(
            prog=f"pneumen {command}",
            description=description,
            allow_abbrev=False,
            formatter_class=argparse.RawDescriptionHelpFormatter,
            **more,
        )
        self.add_argument("--text", action="store_true", help=_("print for people instead of JSON"))

    def error(self, message: str) -> NoReturn:
        if match := re.fullmatch(r"unrecognized arguments: (.*)", message):
            message = _("{split}: is not known here; --help lists what is").format(split=match[1].split()[0])
        elif match := re.fullmatch(r"argument (--[\w-]+)[^:]*: (.*)", message):
            message = f"{match[1]}: {match[2]}"
        elif match := re.fullmatch(r"the following arguments are required: (.*)", message):
            message = _("{match}: is missing").format(match=match[1])
        fail(message)


def fail(message: str) -> NoReturn:
    tell(message)
    raise SystemExit(2)


def tell(message: str) -> None:
    """Say on standard error, in one line, what is wrong."""
    print(_("pneumen: {split}").format(split=" ".join(message.split())), file=sys.stderr)


@contextmanager
def quiet_libraries() -> Iterator[None]:
    """Keep decoders from writing to standard error by themselves: what is wrong is told in one line of ours."""
    sys.stderr.flush()
    kept, nowhere = os.dup(2), os.open(os.devnull, os.O_WRONLY)
    os.dup2(nowhere, 2)
    try:
        yield
    finally:
        os.dup2(kept, 2)
        os.close(kept)
        os.close(nowhere)


def read_document(path: str) -> bytes:
    """Read a file, or standard input for `-`; a file that cannot be read ends the command."""
    if path == "-":
        return sys.stdin.buffer.read()
    try:
        return Path(path).read_bytes()
    except OSError as error:
        reason = (error.strerror or _("cannot be read")).lower()
        fail(
            _("{path}: {reason}; give the path of a JSON file, or - for standard input").format(
                path=path, reason=reason
            )
        )


def print_json(value: Any) -> None:  # noqa: ANN401 - any dataclass or plain value
    text = json.dumps(plain(value), ensure_ascii=False, allow_nan=False, indent=1)
    sys.stdout.buffer.write(text.encode() + b"\n")
    sys.stdout.buffer.flush()


def plain(value: Any) -> Any:  # noqa: ANN401 - any dataclass or plain value
    """Turn dataclasses into dicts in field order and round what no instrument could tell apart."""
    if dataclasses.is_dataclass(value):
        return {field.name: plain(getattr(value, field.name)) for field in dataclasses.fields(value)}
    if isinstance(value, dict):
        return {key: plain(item) for key, item in value.items()}
    if isinstance(value, (list, tuple)):
        return [plain(item) for item in value]
    return round(value, DECIMALS) if isinstance(value, float) else value


def told(finding: Any, advice: str, *keys: str) -> dict[str, Any]:  # noqa: ANN401 - any room's finding
    """Return a finding as the contract's JSON: these of its fields, and what to do about it in a sentence."""
    return {**{key: plain(getattr(finding, key)) for key in keys}, "advice": advice}


def ignored_key(key: str, **more: Any) -> dict[str, Any]:
    """Return the finding for a key of the input that nothing here knows."""
    advice = _("{key} is not known here and was left aside: look for a slip of the pen.").format(key=key)
    return {"kind": "ignored-key", **more, "verdict": Verdict.WATCH, "advice": advice}


def in_words(value: float | None, unit: str, *, decimals: int = 1, missing: str = _("cannot be measured")) -> str:
    """Write a figure for people: true minus, unit, or why there is none."""
    return missing if value is None else f"{value:.{decimals}f} {unit}".replace("-", MINUS, 1)


def print_rows(rows: list[tuple[str, str]]) -> None:
    width = max(len(name) for name, _rest in rows) + 2
    for name, value in rows:
        print(f"  {name:{width}}{value}")
