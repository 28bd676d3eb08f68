"""pneumen comp COMP.json OUT.wav: takes joined phrase by phrase."""

from contextlib import ExitStack
from pathlib import Path
from typing import Any, Final

from pneumen.cli.common import (
    Parser,
    fail,
    ignored_key,
    in_words,
    plain,
    print_json,
    quiet_libraries,
    read_document,
    told,
)
from pneumen.core.comp import BITS, Comp, JoinedTakes, Seam, comp_from_json, join_takes
from pneumen.core.errors import BadDocument, PneumenError, UnreadableFile
from pneumen.core.take import LaidTake, PcmFile, codes_of, open_recording
from pneumen.wording.comp import advice_on_comp, seam_told
from pneumen.wording.language import _

DESCRIPTION: Final = _("""Takes joined phrase by phrase into one track.

COMP.json holds:
  rate_hz         of the track
  length_s        of the track
  takes           {"NAME": {"file": ..., "offset_s": 0, "drift_ppm": null, "gain_db": 0}}: sample n of a take lies at
                  offset_s + n / rate in the song; files are relative to COMP.json
  phrases         [{"take": "NAME", "start_s": ..., "end_s": ..., "gain_db": 0}], in order
  crossfade_ms    20 if left out
  fade_ms         5 if left out: at ends that meet no other phrase
  seam_search_ms  0 if left out: so far either way a seam may move to where it is least heard
  match_levels    false if left out: bring each phrase to the median of all takes in its span, by 3 dB at most
""")


def run(arguments: list[str]) -> int:
    parser = Parser("comp", DESCRIPTION)
    parser.add_argument("comp", metavar="COMP.json", help=_("a comp, or - for standard input"))
    parser.add_argument("out", metavar="OUT.wav", help=_("the file to write"))
    options = parser.parse_args(arguments)
    try:
        comp, ignored = comp_from_json(read_document(options.comp))
    except PneumenError as error:
        fail(f"{options.comp}: {error}")
    folder, out = Path() if options.comp == "-" else Path(options.comp).parent, Path(options.out)
    for name, take in comp.takes.items():
        if out.exists() and (folder / take.file).exists() and out.samefile(folder / take.file):
            fail(
                _("{out}: is the take {name!r}; give another file name, a take is never written over").format(
                    out=out, name=name
                )
            )
    try:
        joined = _joined(comp, folder)
    except PneumenError as error:
        fail(f"{options.comp}: {error}")
    _write(joined, out)
    answer = document(options.out, joined, ignored)
    if options.text:
        _print_text(answer)
    else:
        print_json(answer)
    return 0


def _joined(comp: Comp, folder: Path) -> JoinedTakes:
    with quiet_libraries(), ExitStack() as opened:
        sources = {}
        for name, take in comp.takes.items():
            try:
                recording = opened.enter_context(open_recording(folder / take.file))
                sources[name] = LaidTake(
                    recording, rate_hz=comp.rate_hz, offset_s=take.offset_s, drift_ppm=take.drift_ppm or 0.0
                )
            except UnreadableFile as error:
                raise BadDocument(f"takes.{name}: {take.file}: {error}") from None
        return join_takes(comp, sources)


def _write(joined: JoinedTakes, out: Path) -> None:
    channels = len(joined.samples)
    try:
        with PcmFile(out, sample_rate_hz=joined.rate_hz, channels=channels, bits=BITS) as file:
            file.write(codes_of(joined.samples, BITS))
    except OSError:
        fail(
            _("{out}: cannot be written; give a file name in a folder that is there, is yours and has room").format(
                out=out
            )
        )


def document(file: str, joined: JoinedTakes, ignored: tuple[str, ...]) -> dict[str, Any]:
    """Return what was joined as the contract's JSON."""
    duration_s = joined.samples.shape[1] / joined.rate_hz
    keys = ("kind", "start_s", "end_s", "value", "unit", "verdict")
    return {
        "file": file,
        "duration_s": duration_s,
        "sample_rate_hz": joined.rate_hz,
        "sample_peak_dbfs": plain(joined.sample_peak_dbfs),
        "gain_db": plain(joined.gain_db),
        "seams": [_seam(seam) for seam in joined.seams],
        "findings": [
            *(told(finding, advice_on_comp(finding), *keys) for finding in joined.findings),
            *(ignored_key(key, start_s=0.0, end_s=duration_s, value=None, unit="") for key in ignored),
        ],
    }


def _seam(seam: Seam) -> dict[str, Any]:
    return {
        "at_s": plain(seam.at_s),
        "from": seam.from_take,
        "to": seam.to_take,
        "law": seam.law,
        "crossfade_ms": plain(seam.crossfade_ms),
        "moved_ms": plain(seam.moved_ms),
        "step_db": plain(seam.step_db),
        "smooth": seam.smooth,
        "why": seam_told(seam),
    }


def _print_text(answer: dict[str, Any]) -> None:
    peak = in_words(answer["sample_peak_dbfs"], "dBFS", missing="silent")
    print(
        _("{file}: {duration_s:.2f} s, peak {peak}").format(
            file=answer["file"], duration_s=answer["duration_s"], peak=peak
        )
    )
    for seam in answer["seams"]:
        smooth = "smooth" if seam["smooth"] else _("not smooth")
        print(
            _("  {at_s:.2f} s  {of} to {till}, {law}: {smooth}: {why}").format(
                at_s=seam["at_s"], of=seam["from"], till=seam["to"], law=seam["law"], smooth=smooth, why=seam["why"]
            )
        )
    for finding in answer["findings"]:
        print(f"  {finding['start_s']:.2f} s  {finding['kind']} ({finding['verdict']}): {finding['advice']}")
