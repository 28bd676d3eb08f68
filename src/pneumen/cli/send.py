"""pneumen send PACK.json OUTDIR: a delivery that lines up from zero."""

from pathlib import Path
from typing import Final

from pneumen.cli.common import Parser, fail, in_words, print_json, quiet_libraries, read_document
from pneumen.core.errors import PneumenError
from pneumen.core.send import pack_from_json, package
from pneumen.wording.language import _
from pneumen.wording.send import documents_of, manifest_of

DESCRIPTION: Final = _("""Files that line up from the song's zero in any software, with a manifest and notes.

PACK.json holds:
  song, rate_hz, bits (16 or 24), length_s
  files      [{"name": ..., "file": ..., "offset_s": 0, "channels": "auto" | "mono" | "stereo", "about": ""}],
             relative to PACK.json: sample n of a file lies at offset_s + n / rate in the song
  tempo_bpm, key, note   told in the notes
  format     "wav" if left out, or "aiff"
""")


def run(arguments: list[str]) -> int:
    parser = Parser("send", DESCRIPTION)
    parser.add_argument("pack", metavar="PACK.json", help=_("a delivery, or - for standard input"))
    parser.add_argument("out", metavar="OUTDIR", help=_("the folder to make"))
    parser.add_argument("--zip", action="store_true", help=_("also write OUTDIR.zip with the same files"))
    options = parser.parse_args(arguments)
    try:
        pack, ignored = pack_from_json(read_document(options.pack))
    except PneumenError as error:
        fail(f"{options.pack}: {error}")
    folder, out = Path() if options.pack == "-" else Path(options.pack).parent, Path(options.out)
    try:
        with quiet_libraries():
            delivery = package(
                pack, folder, out, documents=lambda made: documents_of(made, ignored), as_zip=options.zip
            )
    except PneumenError as error:
        fail(f"{options.pack}: {error}")
    except OSError as error:
        fail(
            _("{out}: {lower}; give a folder that is yours, on a disk with room").format(
                out=out, lower=(error.strerror or str(error)).lower()
            )
        )
    answer = manifest_of(delivery, ignored)
    if not options.text:
        print_json(answer)
        return 0
    print(
        _("{out}: {files} files, {rate_hz} Hz, {bits} bit").format(
            out=options.out, files=len(delivery.files), rate_hz=pack.rate_hz, bits=pack.bits
        )
    )
    for one in delivery.files:
        print(
            _("  {file}: peak {sample_peak_dbfs}").format(
                file=one.file, sample_peak_dbfs=in_words(one.sample_peak_dbfs, "dBFS", missing="silent")
            )
        )
    for finding in answer["findings"]:
        print(f"  {finding['file']}: {finding['kind']} ({finding['verdict']}): {finding['advice']}")
    return 0
