"""Findings of level diagrams and takes in sentences: every kind the core can find has its words."""

from pneumen.core.line import LineFinding, findings_of, levels_of
from pneumen.core.setup import setup_from_json
from pneumen.core.take import Finding
from pneumen.core.verdict import Verdict
from pneumen.wording.line import QUIETER, advice_on_line
from pneumen.wording.takes import ADVICE, advice_on_take
from tests.core.test_line import PLUGGED_SETUP, SETUP, as_json, changed
from tests.wording.base import Sentences


class Line(Sentences):
    def kinds(self, document):
        """Return what is told of a setup, by kind."""
        setup, _ = setup_from_json(as_json(document))
        return {one.kind: advice_on_line(one) for one in findings_of(setup, levels_of(setup))}

    def test_a_clipped_stage_is_named_with_what_helps_there(self):
        for stage, cure in (("microphone", "move back or use a pad"), ("converter", "lower the gain")):
            clips = LineFinding(kind="clipping", value=-1, unit="dB", verdict=Verdict.BAKED_IN, stage=stage)
            self.assertIn(f"the {stage} can take: {cure}", advice_on_line(clips))
        hot = {"peak_dbu": 30, "typical_dbu": 20, "quiet_dbu": 10}
        self.assertIn("turn the instrument down", self.kinds(changed(PLUGGED_SETUP, plug=hot))["clipping"])

    def test_a_low_level_asks_for_gain_or_a_nearer_place_and_a_plug_for_its_own_volume(self):
        faint = {"peak_db_spl": 50, "typical_db_spl": 45, "quiet_db_spl": 40}
        told = self.kinds(changed(SETUP, source=faint, preamp={"gain_db": 0}))
        self.assertIn("move closer", told["too-quiet"])
        self.assertIn("more gain than the", told["gain-out-of-range"])
        faint = {"peak_dbu": -60, "typical_dbu": -70, "quiet_dbu": -80}
        told = self.kinds(changed(PLUGGED_SETUP, plug=faint, preamp={"gain_db": 0}))
        self.assertIn("turn the instrument up", told["too-quiet"])
        self.assertIn("turn the instrument up", told["gain-out-of-range"])

    def test_too_much_gain_at_the_lowest_setting_asks_for_a_pad(self):
        for plugged, cure in ((False, "use a pad or move back"), (True, "use a pad or turn the instrument down")):
            finding = LineFinding(
                kind="gain-out-of-range",
                value=-8,
                unit="dB",
                verdict=Verdict.WATCH,
                plugged=plugged,
                target_dbfs=-12,
                limit_db=0,
            )
            self.assertEqual(
                advice_on_line(finding), f"A peak at -12 dBFS needs less gain than the 0 dB there is: {cure}."
            )

    def test_every_stage_that_can_set_the_noise_has_its_cure(self):
        for stage in ("room", "microphone", "preamp", "converter", "instrument", "box"):
            finding = LineFinding(kind="noise", value=20, unit="dB", verdict=Verdict.MENDABLE, stage=stage)
            self.assertSentence(advice_on_line(finding))
            self.assertIn(QUIETER[stage], advice_on_line(finding))

    def test_less_than_a_decibel_left(self):
        for plugged, cure in ((False, "move back"), (True, "play or sing softer")):
            finding = LineFinding(kind="too-hot", value=-0.4, unit="dBFS", verdict=Verdict.WATCH, plugged=plugged)
            self.assertIn(cure, advice_on_line(finding))

    def test_a_sheet_better_than_physics_is_told_with_the_limit(self):
        # Thermal noise of 150 ohm over 20 kHz at 293 K: -130.9 dBu (Johnson 1928, Nyquist 1928).
        told = self.kinds(changed(SETUP, preamp={"ein_dbu": -140}))["ein-below-thermal"]
        self.assertSentence(told)
        self.assertIn("-130.9 unweighted", told)


class Takes(Sentences):
    def finding(self, kind, cause=""):
        return Finding(
            kind=kind,
            start_s=0,
            end_s=1,
            value=1,
            unit="dB",
            verdict=Verdict.WATCH,
            cause=cause,
        )

    def test_every_kind_has_its_advice(self):
        for kind in ("clipping", "silent", "too-hot", "too-quiet", "noise", "dc", "wrong-channels"):
            self.assertSentence(advice_on_take(self.finding(kind)))

    def test_the_cause_decides_where_a_kind_has_several(self):
        both = [advice_on_take(self.finding("wrong-channels", cause)) for cause in ("dual-mono", "one-sided")]
        self.assertNotEqual(*both)
        self.assertEqual(both, [ADVICE["dual-mono"], ADVICE["one-sided"]])
