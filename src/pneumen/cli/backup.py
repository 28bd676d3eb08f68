"""pneumen backup FILE: all songs and recordings in one file, while Pneumen runs."""

import os
import sys
from pathlib import Path

from pneumen.cli.common import Parser, fail, tell
from pneumen.core.errors import PneumenError
from pneumen.web.site.backup import make_backup
from pneumen.web.site.places import folder_asked_for

DESCRIPTION = """All songs and recordings in one ZIP file, checked after it was written. Pneumen may run meanwhile.

The database is copied by SQLite's own online backup, recordings by checksum. ./pneumen restore puts it back.
"""


def run(arguments: list[str]) -> int:
    parser = Parser("backup", DESCRIPTION)
    parser.add_argument("file", metavar="FILE", help="where to write it; one that is there is replaced in the end")
    parser.add_argument("--data", metavar="DIR", help="folder for all data")
    options = parser.parse_args(arguments)
    if options.data:
        os.environ["PNEUMEN_DATA"] = options.data
    target = Path(options.file).expanduser().resolve()
    if target.is_dir() or not target.parent.is_dir():
        fail(f"{options.file}: give the name of a file in a folder that is there")
    try:
        made = make_backup(folder_asked_for(), target, progress)
    except PneumenError as error:
        fail(f"--data: {error}")
    except OSError as error:
        fail(f"{options.file}: {(error.strerror or 'cannot be written').lower()}; nothing was written")
    print(f"{target}: {made.recordings} recordings, {made.size_bytes / 1e6:.1f} MB")
    for checksum in made.missing:
        tell(f"the recording {checksum} is known and not there: ./pneumen check tells whose it is")
    return 1 if made.missing else 0


def progress(told: str) -> None:
    """Say on a terminal how far it is."""
    if sys.stderr.isatty():
        print(f"\rpneumen: {told:<40}", end="", file=sys.stderr, flush=True)
