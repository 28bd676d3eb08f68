"""The command that checks a chain, run as people run it, against the contract of scripting.md."""

import json
import unittest

from tests.chains import CONDENSER, DYNAMIC, FED, WRONG, cable
from tests.cli.program import pneumen

CONTRACT = [
    "ribbon-phantom",
    "condenser-no-phantom",
    "phantom-shared-ribbon",
    "pickup-loading",
    "long-unbalanced",
    "line-into-mic",
    "overload",
    "wrong-di",
    "amp-no-load",
    "ground-loop",
    "no-signal-path",
    "open-speakers",
    "headphone-adapter",
    "usb-mic-and-interface",
    "not-enough-inputs",
    "wireless-headset",
]
EXAMPLE = {
    "devices": [
        {"id": "mic", "kind": "ribbon-microphone"},
        {"id": "box", "kind": "interface", "phantom": {"in1": True, "in2": True}, "phantom_shared": True},
    ],
    "cables": [{"from": "mic.out", "to": "box.in1", "connector": "xlr", "balanced": True, "length_m": 5}],
}


def answered(devices, cables, *flags):
    document = json.dumps({"devices": devices, "cables": list(cables)}).encode()
    return pneumen("hookup", "-", *flags, stdin=document)


class Hookup(unittest.TestCase):
    def test_the_example_of_the_contract(self):
        done = answered(**EXAMPLE)
        answer = json.loads(done.stdout)
        self.assertEqual((done.returncode, done.stderr), (0, b""))
        self.assertEqual(list(answer), ["findings", "steps", "unplugging"])
        (finding,) = answer["findings"]
        self.assertEqual(list(finding), ["code", "verdict", "at", "why", "do"])
        self.assertEqual((finding["code"], finding["verdict"], finding["at"]), ("ribbon-phantom", "stop", "box.in1"))
        self.assertTrue(all(isinstance(one, str) for one in answer["steps"]))

    def test_every_code_of_the_contract_is_there(self):
        self.assertEqual(set(CONTRACT) - WRONG.keys(), set())

    def test_for_people(self):
        done = answered([CONDENSER, FED], [cable("cond.out", "box.in1")], "--text")
        told = done.stdout.decode()
        self.assertIn("Nothing is wrong with this chain.", told)
        self.assertLess(told.index("Connect cond, output, to box, input 1."), told.index("Switch 48 V on at box"))

    def test_kinds_are_listed(self):
        self.assertIn("tube-amp", json.loads(pneumen("hookup", "--kinds").stdout))

    def test_bad_input_is_one_line(self):
        for document, told in (
            (b"{", "not JSON"),
            (b"[]", "must be a JSON object"),
            (b"{}", "devices is missing"),
            (b'{"devices": {}}', "devices must be a list"),
            (b'{"devices": []}', "devices is empty"),
            (b'{"devices": ["mic"]}', "devices[0] must be an object"),
            (b'{"devices": [{"id": "mic"}]}', "devices[0].kind is missing"),
            (b'{"devices": [{"id": "m", "kind": "keyboard"}], "cables": [3]}', "cables[0] must be an object"),
            (
                b'{"devices": [{"id": "m", "kind": "keyboard"}], "cables": [{"to": "m.in"}]}',
                "cables[0].from is missing",
            ),
        ):
            with self.subTest(told):
                done = pneumen("hookup", "-", stdin=document)
                self.assertEqual((done.returncode, done.stdout), (2, b""))
                self.assertEqual(done.stderr.count(b"\n"), 1)
                self.assertIn(told, done.stderr.decode())
        self.assertEqual(pneumen("hookup").returncode, 2)

    def test_a_slip_of_the_pen_is_told(self):
        answer = json.loads(answered([DYNAMIC | {"colour": "black"}, FED], [cable("mic.out", "box.in1")]).stdout)
        self.assertIn("devices[0].colour is not known here", answer["caveats"][0])
