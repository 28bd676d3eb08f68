"""Writing a song's archive."""

import json
import os
import zipfile
from pathlib import Path
from typing import Any, Final

from django.utils import timezone

from pneumen.core.errors import UnreadableFile
from pneumen.web.archive.rows import AUDIO, DOCUMENT, FORMAT, VERSION, audio_of, rows_of, told
from pneumen.web.song.models import Song
from pneumen.wording.language import _

BLOCK: Final = 1 << 20


def write_archive(song: Song, target: Path) -> dict[str, int]:
    """Write a song with its recordings; return the size of each recording by its checksum.

    Raises:
        UnreadableFile: where a recording is gone from the store.
        OSError: where there is no space.
    """
    rows = list(rows_of(song))
    recordings = audio_of(row for _rest, row in rows)
    document = {
        "format": FORMAT,
        "version": VERSION,
        "written_at": timezone.now().isoformat(timespec="seconds"),
        "rows": [{"kind": label, "number": row.pk, "values": told(row)} for label, row in rows],
        "audio": {checksum: audio.size_bytes for checksum, audio in sorted(recordings.items())},
    }
    with zipfile.ZipFile(target, "w", zipfile.ZIP_STORED, allowZip64=True) as archive:
        archive.writestr(zipfile.ZipInfo(DOCUMENT), _as_json(document), zipfile.ZIP_DEFLATED)
        for checksum, audio in sorted(recordings.items()):
            if not audio.path.is_file():
                raise UnreadableFile(
                    _("the recording {checksum}… is gone from the data folder").format(checksum=checksum[:12]),
                    "run ./pneumen check",
                )
            with audio.path.open("rb") as file, archive.open(f"{AUDIO}{checksum}", "w", force_zip64=True) as inside:
                while block := file.read(BLOCK):
                    inside.write(block)
    with target.open("rb+") as file:
        os.fsync(file.fileno())
    return {checksum: audio.size_bytes for checksum, audio in recordings.items()}


def _as_json(document: dict[str, Any]) -> bytes:
    return json.dumps(document, ensure_ascii=False, indent=1, allow_nan=False).encode()
