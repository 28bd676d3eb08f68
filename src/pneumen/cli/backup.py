"""pneumen backup FILE: all songs and recordings in one file, while Pneumen runs."""

import os
import sys
from pathlib import Path

from pneumen.cli.common import Parser, fail, tell
from pneumen.core.errors import PneumenError
from pneumen.web.site.backup import make_backup
from pneumen.web.site.places import folder_asked_for
from pneumen.wording.language import _

DESCRIPTION = _("""All songs and recordings in one ZIP file, checked after it was written. Pneumen may run meanwhile.

The database is copied by SQLite's own online backup, recordings by checksum. ./pneumen restore puts it back.
""")


def run(arguments: list[str]) -> int:
    parser = Parser("backup", DESCRIPTION)
    parser.add_argument("file", metavar="FILE", help=_("where to write it; one that is there is replaced in the end"))
    parser.add_argument("--data", metavar="DIR", help=_("folder for all data"))
    options = parser.parse_args(arguments)
    if options.data:
        os.environ["PNEUMEN_DATA"] = options.data
    target = Path(options.file).expanduser().resolve()
    if target.is_dir() or not target.parent.is_dir():
        fail(_("{file}: give the name of a file in a folder that is there").format(file=options.file))
    try:
        made = make_backup(folder_asked_for(), target, progress)
    except PneumenError as error:
        fail(f"--data: {error}")
    except OSError as error:
        fail(
            _("{file}: {lower}; nothing was written").format(
                file=options.file, lower=(error.strerror or _("cannot be written")).lower()
            )
        )
    print(
        _("{target}: {recordings} recordings, {size_bytes:.1f} MB").format(
            target=target, recordings=made.recordings, size_bytes=made.size_bytes / 1e6
        )
    )
    for checksum in made.missing:
        tell(
            _("the recording {checksum} is known and not there: ./pneumen check tells whose it is").format(
                checksum=checksum
            )
        )
    return 1 if made.missing else 0


def progress(told: str) -> None:
    """Say on a terminal how far it is."""
    if sys.stderr.isatty():
        print(f"\rpneumen: {told:<40}", end="", file=sys.stderr, flush=True)
