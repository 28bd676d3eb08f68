"""Documents with one value gone wrong: answered, or refused in one line that names it."""

import contextlib
import copy
import io
import json
import shutil
import tempfile
import unittest
from pathlib import Path

from pneumen.cli import comp, kit, line, rig, room, send
from tests.signals import SETUP, phrases, wav

WRONG = (-1, 0, 5e-324, 1e30, 1e308, -1e308, 2**70, "x", "", None, [], {}, True)
SURFACES = ("floor", "ceiling", "north", "south", "east", "west")
DOCUMENTS = {
    line: SETUP,
    rig: {"chain": SETUP, "source": "voice-pop", "duration_s": 6, "sample_rate_hz": 16_000, "seed": 1, "hidden": True},
    room: {
        "size_m": [3.4, 4.2, 2.5],
        "surfaces": dict.fromkeys(SURFACES, "plaster"),
        "coverings": [{"on": "north", "material": "duvet", "area_m2": 2}],
        "objects": [{"absorption_m2": [1] * 6}],
        "source_m": [1, 1, 1.5],
        "microphone_m": [1.2, 1, 1.5],
    },
    comp: {
        "rate_hz": 16_000,
        "length_s": 1.0,
        "crossfade_ms": 20,
        "seam_search_ms": 10,
        "match_levels": True,
        "takes": {"one": {"file": "one.wav", "offset_s": 0.1, "drift_ppm": 20.0}, "two": {"file": "one.wav"}},
        "phrases": [
            {"take": "one", "start_s": 0, "end_s": 0.5, "gain_db": -1},
            {"take": "two", "start_s": 0.5, "end_s": 1},
        ],
    },
    send: {
        "song": "Waltz",
        "rate_hz": 16_000,
        "bits": 16,
        "length_s": 1.0,
        "tempo_bpm": 96,
        "format": "aiff",
        "files": [{"name": "One", "file": "one.wav", "offset_s": 0.2, "channels": "auto"}],
    },
    kit: {"budget": 200, "parts": [{"source": "voice-pop", "loudness": "soft"}], "good_enough_db": 1},
}


def places(value, before=()):
    """Yield the path of every value in a document, the document's own last."""
    inside = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for key, one in inside:
        yield from places(one, (*before, key))
    yield before


def with_wrong(document, path, wrong):
    if not path:
        return wrong
    changed = holder = copy.deepcopy(document)
    for key in path[:-1]:
        holder = holder[key]
    holder[path[-1]] = wrong
    return changed


class OneValueWrong(unittest.TestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        (self.folder / "one.wav").write_bytes(wav(phrases(count=1, rate=16_000)[:32_000], rate=16_000))

    def run_with(self, command, document):
        """Return the command's exit code, what it answered and what it said."""
        (self.folder / "document.json").write_text(json.dumps(document))
        shutil.rmtree(self.folder / "parcel", ignore_errors=True)
        target = {rig: "take.wav", comp: "comped.wav", send: "parcel"}.get(command)
        arguments = [str(self.folder / "document.json"), *([str(self.folder / target)] if target else [])]
        raw = io.BytesIO()
        answer, said = io.TextIOWrapper(raw, encoding="utf-8", write_through=True), io.StringIO()
        with contextlib.redirect_stdout(answer), contextlib.redirect_stderr(said):
            try:
                code = command.run(arguments)
            except SystemExit as end:
                code = end.code
        return code, raw.getvalue().decode(), said.getvalue()

    def test_it_is_answered_or_refused_in_a_line(self):
        for command, document in DOCUMENTS.items():
            self.assertEqual(self.run_with(command, document)[0], 0)
            deepest = 1 if command is rig else 9  # its chain is what line reads
            for path in (path for path in places(document) if len(path) <= deepest):
                for wrong in WRONG:
                    with self.subTest(command=command.__name__, path=path, wrong=wrong):
                        code, answer, said = self.run_with(command, with_wrong(document, path, wrong))
                        self.assertIn(code, (0, 2))
                        if code:
                            self.assertRegex(said, r"\Apneumen: .+\n\Z")
                        self.assertNotRegex(answer, "NaN|Infinity")

    def test_a_seed_below_zero(self):
        code, _, said = self.run_with(rig, DOCUMENTS[rig] | {"seed": -1})
        self.assertEqual(code, 2)
        self.assertIn("seed", said)
