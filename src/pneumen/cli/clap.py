"""pneumen clap FILE.wav: what a hand clap tells of the room."""

from pneumen.cli.common import Parser, fail, in_words, print_json, quiet_libraries
from pneumen.core.errors import PneumenError
from pneumen.core.room import Clap, clap_of
from pneumen.core.take import open_recording
from pneumen.wording.language import _

DESCRIPTION = _("""What a hand clap or a burst balloon tells of the room: reverberation time by octave, and flutter.

Clap once where you would sing, as loud as you can, with a second of silence before and after. The first minute of the
file is read, its loudest channel. T20 and EDT are null where noise or the filter forbids; limited_by says which.
""")
LONGEST_S = 60.0


def run(arguments: list[str]) -> int:
    parser = Parser("clap", DESCRIPTION)
    parser.add_argument("file", metavar="FILE.wav", help=_("a recording of one clap"))
    options = parser.parse_args(arguments)
    try:
        with quiet_libraries(), open_recording(options.file) as recording:
            rate_hz = recording.sample_rate_hz
            samples = recording.loudest_channel(LONGEST_S)
        clap = clap_of(samples, rate_hz)
    except PneumenError as error:
        fail(f"{options.file}: {error}")
    if options.text:
        _print_text(clap)
    else:
        print_json(clap)
    return 0


def _print_text(clap: Clap) -> None:
    print(
        _("Reverberation time {rt60_s} (mean of 500 Hz and 1 kHz).").format(
            rt60_s=in_words(clap.rt60_s, "s", decimals=2)
        )
    )
    print(_("  band      T20       EDT"))
    for band, t20, edt, why in zip(clap.bands_hz, clap.t20_s, clap.edt_s, clap.limited_by, strict=True):
        limit = _("limited by the {why}").format(why=why) if why else ""
        row = f"  {band:5d} Hz  {_seconds(t20):8}  {_seconds(edt):8}  {limit}"
        print(row.rstrip())
    if clap.flutter.found:
        told = _(" or ").join(f"{one:.2f}" for one in (clap.flutter.spacing_m, *clap.flutter_or_m))
        print(_("Flutter: echoes between two walls {told} m apart; hang something on one of them.").format(told=told))
    else:
        print(_("No flutter."))


def _seconds(value: float | None) -> str:
    return "none" if value is None else f"{value:.2f} s"
