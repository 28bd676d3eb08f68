"""pneumen hookup CHAIN.json: what is wrong with a chain, and in which order it is plugged."""

from pneumen.cli.common import Parser, fail, ignored_key, print_json, read_document
from pneumen.core.errors import PneumenError
from pneumen.core.hookup import KINDS, Chain, Fault, chain_from_json, faults_of, plugging_acts, unplugging_acts
from pneumen.wording.chain import remedy_of, why_of
from pneumen.wording.language import _
from pneumen.wording.plugging import act_told

DESCRIPTION = _("""What is wrong with a chain of devices, the gravest first, and the order of plugging it in and out.

CHAIN.json holds:
  devices   [{"id": "box", "kind": K, ...}, ...]; an interface, preamp or recorder may carry phantom {"in1": true},
            phantom_shared, inputs {"in1": "mic" | "line" | "instrument"} and phones "6.35 mm", headphones plug
            "3.5 mm", a DI box ground_lift; any device needs_phantom, hurt_by_phantom, output_impedance_ohm,
            input_impedance_ohm, output_dbu, max_input_dbu, gain_db, gain_range_db, current_ma (of 48 V), power_w,
            rate_hz, input_count, modes, tracks {"in1": "mono" | "stereo"}, systems; a computer system
  cables    [{"from": "mic.out", "to": "box.in1", "connector": "xlr", "balanced": true, "length_m": 5}, ...]
Kinds and connectors are told by --kinds.
""")


def run(arguments: list[str]) -> int:
    parser = Parser("hookup", DESCRIPTION)
    parser.add_argument("chain", metavar="CHAIN.json", nargs="?", help=_("a chain, or - for standard input"))
    parser.add_argument("--kinds", action="store_true", help=_("list the kinds of devices with their ports"))
    options = parser.parse_args(arguments)
    if options.kinds:
        print_json({name: list(kind.sockets) for name, kind in KINDS.items()})
        return 0
    if options.chain is None:
        parser.error(_("the following arguments are required: CHAIN.json"))
    try:
        chain, ignored = chain_from_json(read_document(options.chain))
    except PneumenError as error:
        fail(f"{options.chain}: {error}")
    faults, slips = faults_of(chain), [ignored_key(key)["advice"] for key in ignored]
    if options.text:
        _print_text(chain, faults, slips)
    else:
        answer = {"findings": [_finding(fault) for fault in faults], "steps": _steps(chain), "unplugging": _back(chain)}
        print_json(answer | ({"caveats": slips} if slips else {}))
    return 0


def _finding(fault: Fault) -> dict[str, str]:
    told = {"code": fault.code, "verdict": fault.verdict.value, "at": fault.at}
    return told | {"why": why_of(fault), "do": remedy_of(fault)}


def _steps(chain: Chain) -> list[str]:
    return [act_told(act) for act in plugging_acts(chain)]


def _back(chain: Chain) -> list[str]:
    return [act_told(act) for act in unplugging_acts(chain)]


def _print_text(chain: Chain, faults: tuple[Fault, ...], slips: list[str]) -> None:
    for fault in faults:
        print(
            _("{verdict} at {at}: {why}. Do: {remedy}.").format(
                verdict=fault.verdict.value, at=fault.at, why=why_of(fault), remedy=remedy_of(fault)
            )
        )
    if not faults:
        print(_("Nothing is wrong with this chain."))
    print(_("In this order:"))
    for number, step in enumerate(_steps(chain), 1):
        print(f"  {number}. {step}")
    print(_("Taking it apart:"))
    for number, step in enumerate(_back(chain), 1):
        print(f"  {number}. {step}")
    for slip in slips:
        print(slip)
