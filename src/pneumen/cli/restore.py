"""pneumen restore FILE --data DIR: a backup back in its place, whole or not at all."""

import os
from pathlib import Path

from pneumen.cli.backup import progress
from pneumen.cli.common import Parser, fail
from pneumen.core.errors import PneumenError
from pneumen.web.site.backup import restore_backup
from pneumen.web.site.lock import InUse, hold
from pneumen.web.site.places import folder_asked_for
from pneumen.wording.language import _

DESCRIPTION = _("""Put a backup in a data folder's place.

The whole file is checked before anything is replaced. What was in the folder is kept beside it.
""")


def run(arguments: list[str]) -> int:
    parser = Parser("restore", DESCRIPTION)
    parser.add_argument("file", metavar="FILE", help="a backup")
    parser.add_argument("--data", metavar="DIR", help=_("folder for all data"))
    options = parser.parse_args(arguments)
    if options.data:
        os.environ["PNEUMEN_DATA"] = options.data
    path, folder = Path(options.file).expanduser(), folder_asked_for()
    if not path.is_file():
        fail(_("{file}: is no file; give a backup that ./pneumen backup wrote").format(file=options.file))
    if folder.exists() and not folder.is_dir():
        fail(_("--data: {folder} is no folder").format(folder=folder))
    try:
        lock = hold(folder, _("restoring a backup")) if folder.exists() else None
        try:
            before = restore_backup(path, folder, progress)
        finally:
            if lock:
                lock.release()
    except InUse as holder:
        fail(_("--data: {folder} is in use ({holder}); stop that one first").format(folder=folder, holder=holder))
    except PneumenError as error:
        fail(_("{file}: {error}; nothing was changed").format(file=options.file, error=error))
    except OSError as error:
        fail(
            _("--data: {folder}: {lower}; nothing was changed").format(
                folder=folder, lower=(error.strerror or _("cannot be written")).lower()
            )
        )
    print(f"{folder}: restored" + (_("; what was there is in {before}").format(before=before) if before else ""))
    return 0
