"""pneumen room ROOM.json: what a room does to the sound."""

from typing import Any

from pneumen.cli.common import Parser, fail, in_words, plain, print_json, print_rows, read_document
from pneumen.core.errors import PneumenError
from pneumen.core.room import MATERIALS, RoomReport, report_of, room_from_json
from pneumen.wording.language import _

DESCRIPTION = _("""What a room does to the sound: reverberation time, modes, critical distance, first reflections.

ROOM.json holds:
  size_m        [x, y, z]: west to east, south to north, up
  surfaces      the material of floor, ceiling, north, south, east, west: a name, or six coefficients, 125 Hz to 4 kHz
  coverings     [{"on": WALL, "material": M, "area_m2": A}, ...], none if left out
  objects       [{"absorption_m2": [six areas]}, ...], none if left out
  source_m, microphone_m   places; the microphone is aimed at the source
  pattern       the microphone's, omni if left out
""")


def run(arguments: list[str]) -> int:
    parser = Parser("room", DESCRIPTION)
    parser.add_argument("room", metavar="ROOM.json", nargs="?", help=_("a room, or - for standard input"))
    parser.add_argument("--materials", action="store_true", help=_("list the materials there are"))
    options = parser.parse_args(arguments)
    if options.materials:
        _print_materials(text=options.text)
    elif options.room is None:
        parser.error(_("the following arguments are required: ROOM.json"))
    else:
        _tell(options.room, text=options.text)
    return 0


def _tell(path: str, *, text: bool) -> None:
    try:
        room = room_from_json(read_document(path))
        report = report_of(room.box, room.source_m, room.microphone_m, room.pattern)
    except PneumenError as error:
        fail(f"{path}: {error}")
    slips = [
        _("{key} is not known here and was left aside: look for a slip of the pen.").format(key=key)
        for key in room.ignored
    ]
    if text:
        _print_text(report, slips)
    else:
        print_json({**plain(report), **({"caveats": slips} if slips else {})})


def _print_materials(*, text: bool) -> None:
    if text:
        print_rows([(slug, f"{one.label} ({one.origin})") for slug, one in MATERIALS.items()])
    else:
        print_json([{"material": slug, **plain(one)} for slug, one in MATERIALS.items()])


def _print_text(report: RoomReport, slips: list[str]) -> None:
    print(
        _("{volume_m3:.1f} m3, {surface_m2:.1f} m2 of walls; single modes up to about {report}.").format(
            volume_m3=report.volume_m3, surface_m2=report.surface_m2, report=_hz(report)
        )
    )
    print(_("  band      Eyring    Sabine    direct over room"))
    rows = zip(
        report.bands_hz, report.rt60_eyring_s, report.rt60_sabine_s, report.direct_to_reverberant_db, strict=True
    )
    for band, eyring, sabine, lead in rows:
        print(f"  {band:5d} Hz  {_seconds(eyring):8}  {_seconds(sabine):8}  {in_words(lead, 'dB', missing='no room')}")
    axial = [mode for mode in report.modes if mode.kind == "axial"]
    print(_("axial modes: {join} Hz").format(join=", ".join(f"{mode.hz:.1f}" for mode in axial)))
    print_rows([(one.surface, _reflection(one)) for one in report.reflections])
    for slip in slips:
        print(slip)


def _hz(report: RoomReport) -> str:
    return in_words(report.schroeder_hz, "Hz", decimals=0, missing=_("any frequency"))


def _seconds(value: float | None) -> str:
    return in_words(value, "s", decimals=2, missing="none")


def _reflection(one: Any) -> str:  # noqa: ANN401 - a Reflection
    level = in_words(one.level_db, "dB", missing=_("no echo"))
    return _("{delay_ms:.2f} ms later, {level}, first notch {first_notch_hz}").format(
        delay_ms=one.delay_ms, level=level, first_notch_hz=in_words(one.first_notch_hz, "Hz", decimals=0)
    )
