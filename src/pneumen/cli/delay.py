"""pneumen delay: how late one hears oneself through the computer, and how often a buffer is lost."""

from typing import Any

from pneumen.cli.common import Parser, fail, print_json
from pneumen.core.delay import (
    BUFFERS,
    COMPUTERS,
    CONVERTERS_MS,
    SAFETY_SAMPLES,
    buffer_of_ms,
    dropouts_per_minute,
    journey,
    total_ms,
    verdict_of_delay,
)
from pneumen.core.errors import PneumenError
from pneumen.wording.language import _

DESCRIPTION = _("""How late one hears oneself through the computer, segment by segment, and how often a buffer is lost.

The verdict is clear under 6 ms, watch from 6 to 12, mendable over. Dropouts are those of a simulated computer: a guess,
on which what is seen on the real one has the last word. A buffer need not be a power of two.
""")
FLAGS = {"buffer": "--buffer", "sample_rate_hz": "--rate"}


def run(arguments: list[str]) -> int:
    parser = Parser("delay", DESCRIPTION)
    parser.add_argument("--buffer", type=int, required=True, metavar="N", help=_("samples in a buffer"))
    parser.add_argument("--rate", type=int, required=True, metavar="HZ", help=_("sample rate"))
    parser.add_argument("--converter-ms", type=float, default=CONVERTERS_MS, metavar="MS", help=_("both converters"))
    parser.add_argument("--safety-samples", type=int, default=SAFETY_SAMPLES, metavar="N", help=_("each way"))
    parser.add_argument(
        "--speaker-m", type=float, default=0.0, metavar="M", help=_("how far a monitor is; 0: headphones")
    )
    parser.add_argument("--computer", choices=list(COMPUTERS), default="laptop", help=_("whose dropouts are simulated"))
    options = parser.parse_args(arguments)
    told = {
        "converters_ms": options.converter_ms,
        "safety_samples": options.safety_samples,
        "speaker_m": options.speaker_m,
    }
    try:
        way = journey(options.buffer, options.rate, **told)
        rows = [
            {
                "buffer": buffer,
                "round_trip_ms": total_ms(journey(buffer, options.rate, **told)),
                "dropouts_per_minute": dropouts_per_minute(options.computer, buffer, options.rate),
            }
            for buffer in sorted({*BUFFERS, options.buffer})
        ]
    except PneumenError as error:
        fail(_by_its_flag(error))
    answer: dict[str, Any] = {
        "buffer_ms": buffer_of_ms(options.buffer, options.rate),
        "round_trip_ms": total_ms(way),
        "verdict": verdict_of_delay(total_ms(way)),
        "segments": [{"name": one.name, "ms": one.ms} for one in way],
        "by_buffer": rows,
    }
    if options.text:
        _print_text(answer)
    else:
        print_json(answer)
    return 0


def _by_its_flag(error: PneumenError) -> str:
    """Name the flag, not the field of the core."""
    field = getattr(error, "field", "")
    flag = FLAGS.get(field, f"--{field.replace('converters', 'converter').replace('_', '-')}")
    return str(error).replace(field, flag, 1) if field else str(error)


def _print_text(answer: dict[str, Any]) -> None:
    print(
        _("{round_trip_ms:.1f} ms from lips to ear: {verdict}.").format(
            round_trip_ms=answer["round_trip_ms"], verdict=answer["verdict"]
        )
    )
    for one in answer["segments"]:
        print(f"  {one['name']:22} {one['ms']:6.2f} ms")
    print(_("  buffer   round trip   dropouts a minute (simulated)"))
    for row in answer["by_buffer"]:
        print(
            _("  {buffer:6d}   {round_trip_ms:7.1f} ms   {dropouts_per_minute:.2g}").format(
                buffer=row["buffer"], round_trip_ms=row["round_trip_ms"], dropouts_per_minute=row["dropouts_per_minute"]
            )
        )
