"""Folders that take long to make: one serves all processes of a run, each test works on a copy."""

import os
import tempfile
from pathlib import Path

from filelock import FileLock


def once_a_run(name, make):
    """Return a folder that `make` filled, at the path it is given, when it was asked for first."""
    root = Path(os.environ.get("PNEUMEN_DATA") or tempfile.mkdtemp(prefix="pneumen-prepared-"))
    made = root / f"prepared-{name}"
    with FileLock(root / f"prepared-{name}.lock"):
        if not made.exists():
            unfinished = root / f"unfinished-{name}"
            make(unfinished)
            unfinished.rename(made)
    return made
