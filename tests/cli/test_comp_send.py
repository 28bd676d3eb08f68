"""comp and send on the command line, against the contract of scripting.md."""

import json
import tempfile
from pathlib import Path

import numpy as np
import soundfile

from pneumen.core.take import codes_of
from tests.cli.program import pneumen
from tests.cli.test_commands import CommandCase
from tests.signals import RATE, phrases

COMP_KEYS = ["file", "duration_s", "sample_rate_hz", "sample_peak_dbfs", "gain_db", "seams", "findings"]
SEAM_KEYS = ["at_s", "from", "to", "law", "crossfade_ms", "moved_ms", "step_db", "smooth", "why"]
FINDING_KEYS = ["kind", "start_s", "end_s", "value", "unit", "verdict", "advice"]


class FolderCase(CommandCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        for name, level in (("one", -12), ("two", -11)):
            soundfile.write(self.folder / f"{name}.wav", codes_of(phrases(level), 24) << 8, RATE, subtype="PCM_24")

    def document(self, name, value):
        path = self.folder / name
        path.write_text(json.dumps(value))
        return path


class Comp(FolderCase):
    COMP = {  # noqa: RUF012 - never changed
        "rate_hz": RATE,
        "length_s": 7.0,
        "takes": {"one": {"file": "one.wav"}, "two": {"file": "two.wav", "offset_s": 0.0}},
        "phrases": [{"take": "one", "start_s": 0, "end_s": 2.5}, {"take": "two", "start_s": 2.5, "end_s": 6.9}],
    }

    def test_answers_in_the_contracts_order_and_writes_24_bit_mono(self):
        out = self.folder / "out.wav"
        answer = self.answer("comp", self.document("comp.json", self.COMP), out)
        self.assertEqual(list(answer), COMP_KEYS)
        self.assertEqual(list(answer["seams"][0]), SEAM_KEYS)
        self.assertEqual((answer["seams"][0]["from"], answer["seams"][0]["to"]), ("one", "two"))
        info = soundfile.info(out)
        self.assertEqual((info.subtype, info.channels, info.frames), ("PCM_24", 1, 7 * RATE))
        found, wanted = soundfile.read(out)[0], soundfile.read(self.folder / "one.wav")[0]
        self.assertEqual(np.abs(found[RATE : 2 * RATE] - wanted[RATE : 2 * RATE]).max(), 0)

    def test_findings_have_the_contracts_keys(self):
        short = {**self.COMP, "length_s": 9.0, "phrases": [{"take": "one", "start_s": 0, "end_s": 9}], "spare": 1}
        answer = self.answer("comp", self.document("comp.json", short), self.folder / "out.wav")
        self.assertEqual([one["kind"] for one in answer["findings"]], ["short-take", "ignored-key"])
        for finding in answer["findings"]:
            self.assertEqual(list(finding), FINDING_KEYS)

    def test_a_take_is_never_written_over(self):
        before = (self.folder / "one.wav").read_bytes()
        result = pneumen("comp", self.document("comp.json", self.COMP), self.folder / "one.wav")
        self.assert_refused(result, ".*one.wav: is the take 'one'")
        (self.folder / "link.wav").symlink_to("one.wav")
        result = pneumen("comp", self.folder / "comp.json", self.folder / "link.wav")
        self.assert_refused(result, ".*link.wav: is the take 'one'")
        self.assertEqual((self.folder / "one.wav").read_bytes(), before)

    def test_bad_input(self):
        lacking = {**self.COMP, "takes": {**self.COMP["takes"], "two": {"file": "absent.wav"}}}
        document = self.document("comp.json", lacking)
        self.assert_refused(pneumen("comp", document, self.folder / "o.wav"), ".*takes.two: absent.wav: no such file")
        self.assert_refused(pneumen("comp", "-", self.folder / "o.wav", stdin=b"[]"), "-: this must be a JSON object")
        good = self.document("good.json", self.COMP)
        self.assert_refused(pneumen("comp", good, self.folder / "none" / "o.wav"), ".*cannot be written")
        self.assertEqual(list(self.folder.glob("*.part")), [])

    def test_text_is_for_people(self):
        result = pneumen("comp", "--text", self.document("comp.json", self.COMP), self.folder / "out.wav")
        self.assertIn("one to two, linear: smooth: it lies in a pause", result.stdout.decode())


class Send(FolderCase):
    PACK = {  # noqa: RUF012 - never changed
        "song": "Waltz",
        "rate_hz": RATE,
        "bits": 24,
        "length_s": 7.0,
        "files": [{"name": "Lead", "file": "one.wav"}, {"name": "Clarinet", "file": "two.wav", "offset_s": 0.5}],
    }

    def test_prints_the_manifest_it_writes(self):
        out = self.folder / "parcel"
        answer = self.answer("send", self.document("pack.json", self.PACK), out, "--zip")
        self.assertEqual(list(answer), ["song", "files", "findings"])
        self.assertEqual(json.loads((out / "manifest.json").read_text()), answer)
        names = ["01 Lead.wav", "02 Clarinet.wav", "manifest.json", "notes.txt"]
        self.assertEqual(sorted(one.name for one in out.iterdir()), names)
        self.assertTrue((self.folder / "parcel.zip").is_file())
        self.assertEqual([(one["file"], one["kind"]) for one in answer["findings"]], [("02 Clarinet.wav", "runs-over")])

    def test_what_comp_joined_is_measured_and_sent(self):
        comp = self.document("comp.json", Comp.COMP)
        self.answer("comp", comp, self.folder / "comped.wav")
        self.assertIn(self.answer("measure", self.folder / "comped.wav")["verdict"], ("clear", "watch"))
        pack = {**self.PACK, "files": [{"name": "Lead", "file": "comped.wav"}]}
        self.answer("send", self.document("pack.json", pack), self.folder / "parcel")
        sent, comped = (soundfile.read(self.folder / one)[0] for one in ("parcel/01 Lead.wav", "comped.wav"))
        self.assertTrue(np.array_equal(sent, comped))

    def test_bad_input(self):
        out = self.folder / "parcel"
        lacking = {**self.PACK, "files": [{"name": "Lead", "file": "absent.wav"}]}
        refused = pneumen("send", self.document("pack.json", lacking), out)
        self.assert_refused(refused, r".*files\[0\]: absent.wav: no such file")
        self.assertFalse(out.exists())
        good = self.document("good.json", self.PACK)
        out.mkdir()
        (out / "mine.txt").write_text("mine")
        self.assert_refused(pneumen("send", good, out), ".*is there already: give a folder that is new or empty")
        self.assertEqual([one.name for one in out.iterdir()], ["mine.txt"])
