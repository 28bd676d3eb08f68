"""Pages that help to choose: families, an unknown microphone, packages side by side."""

from pneumen.core.forecast import outcome
from pneumen.core.kit import assumed_interface, family_chain
from pneumen.web.kit.family_show import HEADS, families_told
from pneumen.web.kit.needs import parts_planned
from pneumen.web.kit.packages import packages_of, usual_sums
from pneumen.web.part.models import Part
from pneumen.web.settle import settle_with
from pneumen.wording.figures import figure
from tests.web.base import DemoCase


class Families(DemoCase):
    def part(self, **changes):
        Part.objects.filter(pk=self.voice.pk).update(own_microphone=None, own_interface=None, **changes)
        return Part.objects.whole().get(pk=self.voice.pk)

    def rows(self, **changes):
        return {row.label: row for row in families_told(self.part(**changes))}

    def test_each_figure_is_that_of_the_chain_set_up(self):
        part = self.part()
        rows = self.rows()
        found = outcome(settle_with(part, family_chain("dynamic", assumed_interface())))
        cells = dict(zip(HEADS, rows["Dynamic"].cells, strict=True))
        self.assertEqual(cells["Clean range"], f"{figure(found.levels.clean_range_db)} dB")
        self.assertEqual(cells["Over the room"], f"{figure(found.in_air.lead_db)} dB")
        self.assertIn(f"{figure(found.gain_db)} dB of gain", cells["Output"])

    def test_what_speaks_against_one_is_told_by_source(self):
        drum = self.rows(source="snare-drum", loudness="loud")
        self.assertIn("fragile", drum["Ribbon, passive"].told.lower())
        self.assertIn("bright on a harsh source", drum["Small-diaphragm condenser"].told)
        self.assertNotIn("too loud", drum["Dynamic"].told)
        strings = self.rows(source="acoustic-guitar", loudness="medium")
        self.assertIn("Softens the attack", strings["Dynamic"].told)
        self.assertNotIn("oftens the attack", strings["Small-diaphragm condenser"].told)

    def test_the_page_shows_them_and_a_plug_has_no_use_for_it(self):
        page = self.page("kit:families")
        self.assertContains(page, "Which family?")
        self.assertContains(page, "Large-diaphragm condenser")
        self.assertContains(page, "no figure here measures it")
        Part.objects.filter(pk=self.voice.pk).update(source="keyboard")
        self.assertEqual(self.page("kit:families").status_code, 302)


class Unknown(DemoCase):
    def test_nothing_told_and_48_v_stays_off(self):
        page = self.page("kit:identify")
        self.assertContains(page, "48 V stays off")
        self.assertContains(page, "What does its cable end in?")

    def test_answers_narrow_it_and_what_is_none_is_left_out(self):
        page = self.page("kit:identify", plug="usb", opening="side", weight="purple")
        odds = dict(page.context["screen"].odds)
        self.assertGreater(odds["USB condenser"], 90)
        self.assertContains(page, "no business here")
        self.assertContains(self.page("kit:identify", printed="48v"), "on its channel alone")


class Packages(DemoCase):
    def test_three_sums_each_the_kit_it_buys(self):
        page = self.page("kit:packages")
        packages = page.context["packages"]
        self.assertTrue(1 <= len(packages) <= 3)
        self.assertContains(page, "steps from silence to a moving meter")
        planned = [part.name for part in parts_planned(self.song)]
        for one in packages:
            self.assertEqual([name for name, _ in one.figures], planned)

    def test_a_larger_sum_that_recommends_the_same_shows_the_best_it_buys(self):
        enough, more = packages_of(self.song, (700.0, 5000.0), mine=False)
        self.assertIn("enough", enough.name)
        self.assertIn("more than is needed", more.name)
        self.assertNotEqual(enough.total, more.total)

    def test_what_is_in_use_stands_beside_them(self):
        found = packages_of(self.song, (300.0,), mine=True)
        self.assertEqual(found[-1].name, "In use")
        self.assertEqual(len(found[-1].figures), len(found[0].figures))

    def test_a_sum_too_small_is_told_and_a_word_is_refused(self):
        bare = self.part_with_nothing()
        self.assertContains(self.page("kit:packages", bare, first="1"), "No whole kit costs so little")
        refused = self.page("kit:packages", first="plenty")
        self.assertEqual(refused.status_code, 422)

    def part_with_nothing(self):
        Part.objects.exclude(pk=self.voice.pk).delete()
        Part.objects.update(own_microphone=None, own_interface=None)
        return self.voice

    def test_the_usual_sums_begin_with_the_cheapest(self):
        sums = usual_sums(self.song)
        self.assertEqual(sums, tuple(sorted(sums)))
