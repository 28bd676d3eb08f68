"""pneumen line SETUP.json: levels from the source to the file."""

from pneumen.cli.common import Parser, fail, ignored_key, in_words, plain, print_json, print_rows, read_document, told
from pneumen.core.errors import PneumenError
from pneumen.core.line import Levels, findings_of, levels_of
from pneumen.core.setup import setup_from_json
from pneumen.wording.language import _
from pneumen.wording.line import advice_on_line

DESCRIPTION = _("""Levels from the source to the file.

SETUP.json holds source, distance_m (perhaps off_axis_deg, how far the source lies off the microphone's axis), room
(noise_dba, perhaps direct_to_reverberant_db and rt60_s: what the room adds), microphone, preamp and converter; behind a
USB microphone the last two are left out. For an instrument that is plugged in it holds "plug" (peak_dbu, typical_dbu,
quiet_dbu, output_ohm, noise_dbu), preamp (input_impedance_ohm being that of the input used), converter, and perhaps
"box" (gain_db, input_impedance_ohm, output_ohm, noise_dbu, max_output_dbu).
""")

STEPS = ("peak_steps", "noise_steps")  # for the screens' Why; the contract of the command line does not have them


def run(arguments: list[str]) -> int:
    parser = Parser("line", DESCRIPTION)
    parser.add_argument("setup", metavar="SETUP.json", help=_("a setup, or - for standard input"))
    options = parser.parse_args(arguments)
    try:
        setup, ignored = setup_from_json(read_document(options.setup))
    except PneumenError as error:
        fail(f"{options.setup}: {error}")
    levels = levels_of(setup)
    keys = ("kind", "value", "unit", "verdict")
    findings = [told(finding, advice_on_line(finding), *keys) for finding in findings_of(setup, levels)]
    findings += [ignored_key(key, value=0, unit="") for key in ignored]
    if options.text:
        _print_text(levels, findings)
    else:
        answer = {key: value for key, value in plain(levels).items() if key not in STEPS}
        print_json({**answer, "findings": findings})
    return 0


def _print_text(levels: Levels, findings: list[dict[str, object]]) -> None:
    print(
        _("The loudest peak lands at {peak_dbfs}; the {noise_set_by} sets the noise.").format(
            peak_dbfs=in_words(levels.peak_dbfs, "dBFS"), noise_set_by=levels.noise_set_by
        )
    )
    print_rows(
        [
            ("typical", in_words(levels.typical_dbfs, "dBFS")),
            ("quiet", in_words(levels.quiet_dbfs, "dBFS")),
            (_("noise (A)"), in_words(levels.noise_dbfs, "dBFS")),
            *((f"  {stage}", in_words(level, "dBFS")) for stage, level in levels.noise_by_stage_dbfs.items()),
            (_("clean range"), in_words(levels.clean_range_db, "dB")),
            (
                "headroom",
                _("{headroom_db}, {clips_first} clips first").format(
                    headroom_db=in_words(levels.headroom_db, "dB"), clips_first=levels.clips_first
                ),
            ),
            *(
                (_("gain for {t}").format(t=in_words(float(t), "dBFS", decimals=0)), in_words(gain, "dB"))
                for t, gain in levels.gain_for_peak_db.items()
            ),
        ]
    )
    for finding in findings:
        print(f"{finding['verdict']}: {finding['advice']}")
