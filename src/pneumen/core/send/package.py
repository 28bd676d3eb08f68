"""A whole delivery: all files or none, with what is told of them beside them, as a folder and as a zip."""

import os
import shutil
import tempfile
import zipfile
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path

from pneumen.core.errors import BadDocument, UnreadableFile
from pneumen.core.send.deliver import Delivered, deliver
from pneumen.core.send.document import Pack
from pneumen.core.send.names import delivered_names

Documents = Callable[["Delivery"], Mapping[str, str]]


@dataclass(frozen=True, slots=True, kw_only=True)
class Delivery:
    """What was delivered."""

    pack: Pack
    files: tuple[Delivered, ...]


def package(
    pack: Pack,
    folder: Path,
    out: Path,
    *,
    documents: Documents,
    as_zip: bool = False,
    progress: Callable[[float], None] | None = None,
) -> Delivery:
    """Write a delivery beside its place and move it there when it is whole.

    Args:
        folder: what the files' names are relative to.
        out: the folder to make; it may be there, but empty. as_zip also writes a zip of that name beside it.
        documents: what else lies in it, a text for each file name.
        progress: called with the share done, 0 to 1.

    Raises:
        BadDocument: where a file cannot be delivered, or out holds files.
        OSError: where there is no room or no right to write; then nothing is there.
    """
    zipped = out.with_name(f"{out.name}.zip")
    if (out.exists() and (not out.is_dir() or any(out.iterdir()))) or (as_zip and zipped.exists()):
        taken = zipped if as_zip and zipped.exists() else out
        raise BadDocument(f"{taken} is there already: give a folder that is new or empty")
    out.parent.mkdir(parents=True, exist_ok=True)
    part = Path(tempfile.mkdtemp(prefix=f".{out.name[:100]}.", suffix=".part", dir=out.parent))
    zip_part = part.with_suffix(".zip")
    try:
        part.chmod(0o755)
        delivery = _deliver_all(pack, folder, part, progress)
        for name, text in documents(delivery).items():
            (part / name).write_text(text, encoding="utf-8")
        if as_zip:
            write_zip(part, zip_part)
            os.replace(zip_part, zipped)
        os.replace(part, out)
    except BaseException:
        shutil.rmtree(part, ignore_errors=True)
        zip_part.unlink(missing_ok=True)
        raise
    return delivery


def write_zip(folder: Path, target: Path) -> None:
    """Write all files of a folder into a zip, uncompressed: sound hardly shrinks."""
    with zipfile.ZipFile(target, "w", zipfile.ZIP_STORED) as file:
        for path in sorted(folder.iterdir()):
            file.write(path, path.name)


def _deliver_all(pack: Pack, folder: Path, part: Path, progress: Callable[[float], None] | None) -> Delivery:
    names = delivered_names(tuple(file.name for file in pack.files), pack.format)
    found = []
    for number, (wanted, name) in enumerate(zip(pack.files, names, strict=True)):
        if progress:
            progress(number / len(names))
        try:
            found.append(deliver(wanted, pack, folder, part / name))
        except UnreadableFile as error:
            raise BadDocument(f"files[{number}]: {wanted.file}: {error}") from None
    return Delivery(pack=pack, files=tuple(found))
