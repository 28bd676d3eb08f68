"""pneumen proximity: what closeness and angle do to a microphone's response."""

from pneumen.cli.common import Parser, fail, in_words, print_json, print_rows
from pneumen.core.errors import PneumenError
from pneumen.core.gear import PATTERNS
from pneumen.core.place import Response, response_at
from pneumen.wording.language import _


def run(arguments: list[str]) -> int:
    parser = Parser("proximity", _("The response at a distance and angle, relative to a plane wave on axis."))
    parser.add_argument("--pattern", required=True, metavar="NAME", help=", ".join(PATTERNS))
    parser.add_argument("--distance-m", required=True, type=float, metavar="M", help=_("to the capsule"))
    parser.add_argument("--angle-deg", type=float, default=0.0, metavar="DEG", help=_("off the microphone's axis"))
    parser.add_argument("--reference-m", type=float, metavar="M", help=_("relative to this distance on axis instead"))
    options = parser.parse_args(arguments)
    try:
        response = response_at(
            options.pattern, options.distance_m, angle_deg=options.angle_deg, reference_m=options.reference_m
        )
    except PneumenError as error:
        field = getattr(error, "field", "pattern")
        fail(f"--{field.replace('_', '-')}: {error}")
    if options.text:
        _print_text(response)
    else:
        print_json(response)
    return 0


def _print_text(response: Response) -> None:
    pairs = zip(response.frequency_hz, response.response_db, strict=True)
    print_rows([(f"{hertz} Hz", in_words(level, "dB", missing="nothing")) for hertz, level in pairs])
