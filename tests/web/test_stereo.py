"""Stereo as a format of a part: a pair kept reaches kit, place, gain, takes and the file."""

from dataclasses import replace

import numpy as np
import soundfile

from pneumen.core.forecast import line_of
from pneumen.core.kit import chain_of, item_named
from pneumen.core.line import levels_of
from pneumen.web.kit.needs import needs_of_song
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of, settle
from tests import parts
from tests.signals import phrases, wav
from tests.web.base import DemoCase, answers


class Stereo(DemoCase):
    def fresh(self, part=None):
        return Part.objects.whole().get(pk=(part or self.harp).pk)

    def pair(self, part=None, **values):
        return self.act("place:pair", part or self.harp, between_deg="110", spacing_m="17 cm", **values)

    def test_a_pair_kept_turns_each_microphone_outwards_everywhere(self):
        before = outcome_of(self.fresh())
        self.pair()
        part = self.fresh()
        self.assertEqual((part.format, part.between_deg, part.channels), ("stereo", 110, 2))
        after = outcome_of(part)
        self.assertEqual(after.setup.placement.turned_deg, 55)
        self.assertEqual(after.setup.pair.spacing_m, 0.17)
        # A cardioid hears 2.1 dB less 55 degrees off its axis: of the source over the room as well.
        lost = before.in_air.lead_db - outcome_of(part, distance_m=before.distance_m).in_air.lead_db
        self.assertTrue(0.5 < lost < 4, lost)

    def test_every_screen_says_so(self):
        self.pair()
        self.assertContains(self.page("place:page", self.harp), "Two microphones 17 cm apart, 110°")
        self.assertNotContains(self.page("place:page", self.harp), 'name="turned"')
        self.assertContains(self.page("gain:page", self.harp), "Channels, gains alike")
        self.assertContains(self.page("part:page", self.harp), "WAV, stereo")
        self.assertContains(self.page("place:two", self.harp, how="pair"), "Keep this pair")

    def test_a_pair_of_which_there_is_one_asks_for_the_second(self):
        self.pair()
        told = "Two microphones are placed for Lever harp: a second Stitchwort S is still to be found or borrowed"
        for name in ("start:page", "kit:page"):
            self.assertContains(self.page(name, self.harp), told)
        self.act("place:pair", self.harp, mono="1")
        self.assertNotContains(self.page("start:page", self.harp), "is still to be found")

    def test_back_to_one_microphone_and_the_angle_is_kept_in_mind(self):
        self.pair()
        self.act("place:pair", self.harp, mono="1")
        part = self.fresh()
        self.assertEqual((part.format, settle(part).pair, settle(part).placement.turned_deg), ("mono", None, 0))
        self.assertEqual(part.between_deg, 110)

    def test_what_cannot_be_is_told_and_nothing_changes(self):
        response = self.act("place:pair", self.harp, between_deg="400", spacing_m="17 cm")
        self.assertEqual(response.status_code, 302)
        self.assertContains(self.client.get(response["Location"]), "between 0 and 180")
        self.assertEqual(self.fresh().format, "mono")

    def test_the_kit_is_planned_for_two(self):
        self.client.post(f"/parts/{self.harp.pk}/start/", answers(self.harp, format="stereo", budget="900"))
        part = self.fresh()
        self.assertEqual(part.format, "stereo")
        need = next(need for need in needs_of_song(part.song).parts if need.source.slug == "lever-harp")
        self.assertEqual(need.channels, 2)
        self.assertContains(self.page("kit:page", self.harp), "in stereo")

    def test_a_microphone_with_its_own_plug_records_one_channel(self):
        self.act("place:pair", self.clarinet, between_deg="90", spacing_m="0 cm")
        part = self.fresh(self.clarinet)
        self.assertEqual((part.in_stereo, part.channels, settle(part).pair), (True, 1, None))

    def test_a_start_that_does_not_say_keeps_the_format(self):
        self.pair()
        self.client.post(f"/parts/{self.harp.pk}/start/", answers(self.harp))
        self.assertEqual(self.fresh().format, "stereo")


class Takes(DemoCase):
    def test_a_simulated_take_has_two_channels_that_are_no_copy(self):
        self.act("place:pair", self.harp, between_deg="90", spacing_m="0 cm")
        self.act("take:simulated", self.harp)
        self.work()
        take = self.harp.takes.get()
        self.assertEqual(take.measurement["channels_say"], "stereo")
        samples, _ = soundfile.read(take.audio.path)
        left, right = samples.T
        self.assertTrue(0.3 < np.corrcoef(left, right)[0, 1] < 0.98)
        self.assertNotIn("wrong-channels", {one["kind"] for one in take.measurement["findings"]})
        self.assertNotContains(self.page("take:page", self.harp), "set for stereo")

    def test_a_file_with_other_channels_than_were_set_is_told(self):
        tone = phrases()
        wide = np.column_stack([tone, np.roll(tone, 1000) * 0.7])
        self.measured_take(content=wav(wide))
        self.assertContains(self.page("take:page"), "set for one microphone")
        Part.objects.filter(pk=self.voice.pk).update(format="stereo", between_deg=110)
        self.measured_take(content=wav(tone))
        self.assertContains(self.page("take:page"), "set for stereo")


class Slider(DemoCase):
    """A USB microphone without a dial: the computer's own input slider is its gain control."""

    def test_it_is_an_answer_of_start_and_a_control_of_gain(self):
        sent = answers(self.clarinet, microphone="usb-condenser", usb_gain="slider", microphone_name="Mine")
        self.client.post(f"/parts/{self.clarinet.pk}/start/", sent)
        part = Part.objects.whole().get(pk=self.clarinet.pk)
        chain = part.to_chain()
        self.assertEqual((chain.control, chain.gain_marking, chain.gain_range_db), ("slider", "bare", (0.0, 20.0)))
        page = self.page("gain:page", self.clarinet)
        self.assertContains(page, "Slider, about")
        self.assertContains(page, "as it is")
        self.act("gain:keep", self.clarinet, turn="50")
        self.assertEqual(Part.objects.get(pk=part.pk).gain_db, 10)
        self.assertContains(self.page("start:page", self.clarinet), "computer’s input slider")

    def test_it_lifts_sound_and_noise_alike(self):
        """A level set after the converter: the clean range stays what it is."""
        chain = chain_of(replace(item_named("pimpernel-u"), gain_marking="slider", gain_max_db=None), None)
        setup = parts.part("voice-soft", chain=chain)
        low, high = (levels_of(line_of(replace(setup, gain_db=gain))) for gain in (0.0, 20.0))
        self.assertAlmostEqual(high.peak_dbfs - low.peak_dbfs, 20)
        self.assertAlmostEqual(high.clean_range_db, low.clean_range_db)
