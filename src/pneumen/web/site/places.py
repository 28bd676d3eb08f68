"""Where data lives on this machine, and the key made at first start."""

import os
import secrets
import sys
import tempfile
from pathlib import Path

PLACES = ("audio", "incoming", "put-away", "live", "packages")


def default_data_folder() -> Path:
    """Return the folder this system keeps a program's data in."""
    home = Path.home()
    if os.name == "nt":
        return Path(os.environ.get("LOCALAPPDATA", home / "AppData" / "Local")) / "Pneumen"
    if sys.platform == "darwin":
        return home / "Library" / "Application Support" / "Pneumen"
    return Path(os.environ.get("XDG_DATA_HOME", home / ".local" / "share")) / "pneumen"


def folder_asked_for() -> Path:
    """Return the data folder of this run, there or not."""
    return Path(os.environ.get("PNEUMEN_DATA") or default_data_folder()).expanduser().resolve()


def data_folder() -> Path:
    """Return the data folder of this run, made if it is missing, readable by its owner alone."""
    folder = folder_asked_for()
    for place in (folder, *(folder / name for name in PLACES)):
        place.mkdir(mode=0o700, parents=True, exist_ok=True)
    return folder


def secret_key(folder: Path) -> str:
    """Return the key kept in the data folder; the first start makes it, whole or not at all.

    An empty one, left by a start on a full disk, is made anew.
    """
    path = folder / "secret-key"
    if path.exists() and (key := path.read_text().strip()):
        return key
    handle, fresh = tempfile.mkstemp(dir=folder, prefix=".secret-key-")
    try:
        with os.fdopen(handle, "w") as file:
            file.write(secrets.token_urlsafe(50))
            file.flush()
            os.fsync(file.fileno())
        os.replace(fresh, path)
    except BaseException:
        Path(fresh).unlink(missing_ok=True)
        raise
    return path.read_text()
