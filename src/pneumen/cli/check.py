"""pneumen check: the data folder held against itself; what is safe is mended, the rest is told."""

import os

from pneumen.cli.common import Parser, fail
from pneumen.web.site.check import check_folder
from pneumen.web.site.lock import InUse, hold
from pneumen.web.site.places import folder_asked_for
from pneumen.wording.language import _

DESCRIPTION = _("""Hold the data folder against itself: database, recordings, checksums.

What is safe is mended: a recording that was put away and is needed comes back, what a killed process left is removed.
The rest is told. While Pneumen runs, all is only told. 0 when all is well, or was mended.
""")


def run(arguments: list[str]) -> int:
    parser = Parser("check", DESCRIPTION)
    parser.add_argument("--data", metavar="DIR", help=_("folder for all data"))
    parser.add_argument("--put-orphans-away", action="store_true", help=_("also put away recordings of no song"))
    options = parser.parse_args(arguments)
    if options.data:
        os.environ["PNEUMEN_DATA"] = options.data
    folder = folder_asked_for()
    if not folder.is_dir():
        fail(_("--data: {folder} is no folder; give the one Pneumen keeps its data in").format(folder=folder))
    try:
        lock = hold(folder, _("checking the data"))
    except InUse as holder:
        print(_("in use ({holder}): nothing is mended").format(holder=holder))
        lock = None
    except OSError as error:
        fail(f"--data: {folder}: {(error.strerror or 'cannot be written').lower()}")
    try:
        found = check_folder(folder, mend=lock is not None, put_orphans_away=options.put_orphans_away)
    finally:
        if lock:
            lock.release()
    for one in found:
        print(f"{'mended' if one.mended else 'wrong'}: {one.told}")
    left = sum(not one.mended for one in found)
    print(
        _("all is well") if not found else _("{found} mended, {left} left").format(found=len(found) - left, left=left)
    )
    return 1 if left else 0
