"""Kits in sentences: each thing has its reason, each finding its advice, and what nothing fits for its price."""

from dataclasses import replace

from pneumen.core.errors import NothingFits
from pneumen.core.kit import (
    KIND_LABELS,
    KitFinding,
    KitLine,
    OwnedGear,
    built_in_catalogue,
    findings_of_kit,
    frontier_of,
    item_named,
)
from pneumen.core.kit.accessories import SMALL_KINDS
from pneumen.core.kit.planner import EASED as EASABLE
from pneumen.core.kit.swaps import HUB_TRAITS, MICROPHONE_TRAITS
from pneumen.core.part import SOURCES
from pneumen.core.verdict import Verdict
from pneumen.wording import kit as words
from pneumen.wording.figures import Habits, habits
from pneumen.wording.order import money_short_told
from tests.core.test_kit import needs
from tests.wording.base import Sentences

CATALOGUE = built_in_catalogue()


class Things(Sentences):
    def test_every_kind_that_a_chain_needs_has_its_reason(self):
        self.assertEqual(SMALL_KINDS - words.REASONS.keys(), set())
        self.assertEqual(words.REASONS.keys() - KIND_LABELS.keys(), set())
        self.assertEqual(words.reason_for("shock-mount"), "you want it")

    def test_every_trait_of_a_swap_has_words(self):
        traits = {trait for trait, _ in (*HUB_TRAITS, *MICROPHONE_TRAITS)} | {"round-trip"}
        self.assertEqual(traits, words.TRAITS.keys())

    def test_what_software_lacks(self):
        asked = needs("voice-pop", "clarinet", computer="windows")
        item = replace(next(one for one in CATALOGUE if one.kind == "software"), tracks=2)
        told = [words.software_lack(lack, asked, item) for lack in ("system", "tracks", "overdubs", "takes", "no-fees")]
        self.assertEqual(told[:2], ["does not run on windows", "has 2 tracks, 3 are needed"])
        for text in told:
            self.assertClean(text)


class NoKit(Sentences):
    def test_every_need_that_can_be_eased_has_words(self):
        self.assertEqual(EASABLE.keys(), words.EASED.keys())

    def test_the_price_stands_in_the_readers_money(self):
        error = NothingFits(150, 1234.5, {"monitors": 149})
        told = words.why_nothing_fits(error)
        self.assertEqual(
            told,
            "the cheapest complete kit costs 1,234.50, the budget is 150; raise the budget to 1,234.50 or leave the "
            "monitors for later (then 149 does)",
        )
        token = habits.set(Habits(currency_sign="kr", sign_after=True, number_style=(".", ",")))
        self.addCleanup(habits.reset, token)
        self.assertIn("1.234,50\N{NO-BREAK SPACE}kr", words.why_nothing_fits(error))

    def test_a_catalogue_that_can_do_none_of_it(self):
        self.assertEqual(
            words.why_nothing_fits(NothingFits(50, None, {})), "no kit of this catalogue can do all that is asked"
        )


class Findings(Sentences):
    def told(self, asked):
        """Return what is told of the cheapest and the dearest kit, by kind."""
        kits = list(frontier_of(asked, OwnedGear(), CATALOGUE).kits())
        found = [finding for kit in (kits[0], kits[-1]) for finding in findings_of_kit(asked, kit)]
        return {finding.kind: words.advice_on_kit(finding) for finding in found}

    def test_every_sentence_of_real_kits_is_whole(self):
        seen = {}
        for asked in (
            needs("voice-pop", "clarinet", computer="windows", monitors=True),
            needs("keyboard", "voice-pop", computer="mac"),
            needs("bass-direct-passive", computer="windows", route="interface"),
        ):
            seen |= self.told(asked)
        for told in seen.values():
            self.assertSentence(told)
        self.assertLessEqual({"headphones-loud", "monitors-for-room", "monitors-later", "di-not-needed"}, seen.keys())

    def test_lengths_are_the_readers(self):
        plugged = next(one for one in SOURCES.values() if one.direct and one.direct.passive)
        finding = KitFinding(kind="di-not-needed", verdict=Verdict.CLEAR, source=plugged, hub=item_named("rowan-2"))
        self.assertIn("a lead under 5 m", words.advice_on_kit(finding))
        self.in_feet()
        self.assertIn("a lead under 16 ft 5 in", words.advice_on_kit(finding))

    def test_a_box_that_is_not_the_usual_one_is_told_as_such(self):
        passive = next(one for one in SOURCES.values() if one.direct and one.direct.passive)
        boxes = [one for one in CATALOGUE if one.kind == "di-box"]
        for active, words_told in ((True, "goes through a DI box, an active one"), (False, "is the usual choice")):
            box = replace(boxes[0], active=active)
            finding = KitFinding(kind="di-box", verdict=Verdict.CLEAR, source=passive, item=box, worth=120.0)
            told = words.advice_on_kit(finding)
            self.assertSentence(told)
            self.assertIn(words_told, told)
            self.assertIn("about 120,", told)

    def test_a_ribbon_behind_one_switch_for_all(self):
        ribbon = next(one for one in CATALOGUE if one.kind == "microphone" and one.microphone_family.hurt_by_phantom)
        for phantom, shared in (("shared", True), ("per-channel", False)):
            hub = replace(item_named("rowan-2"), phantom=phantom)
            told = words.advice_on_kit(KitFinding(kind="ribbon-phantom", verdict=Verdict.STOP, item=ribbon, hub=hub))
            self.assertEqual("one switch for all inputs" in told, shared)

    def test_how_long_headphones_are_safe(self):
        # 85 dBA for 8 hours, each 3 dB more halves the time (NIOSH 98-126, 1998): 100 dB for a quarter of an hour.
        for level_db, safe_h, time in ((100, 0.25, "15 minutes"), (124, 0.001, "less than a minute")):
            finding = KitFinding(kind="headphones-loud", verdict=Verdict.WATCH, level_db=level_db, safe_h=safe_h)
            self.assertIn(f"safe for {time} a day", words.advice_on_kit(finding))


class BuyingOrder(Sentences):
    def lines(self, *priced):
        return [KitLine(kind=kind, item=None, price=price, found_in="shop") for kind, price in priced]

    def test_a_sum_tells_what_it_begins_with(self):
        lines = self.lines(("microphone", 40), ("pop-filter", 10), ("headphones", 20))
        self.assertIn("buys nothing that records yet, 40 does, 70 completes it", money_short_told(lines, 30))
        begun = money_short_told(lines, 55)
        self.assertTrue(begun.startswith("55 begins with"), begun)
        self.assertIn("70 completes the kit", begun)

    def test_what_is_owned_records_now(self):
        lines = self.lines(("microphone", 0), ("pop-filter", 9), ("headphones", 20))
        self.assertIn("What you have records now; 29 more", money_short_told(lines, 0))

    def test_alike_things_are_counted(self):
        lines = self.lines(("microphone", 40), ("microphone", 40))
        self.assertIn("2 × ", money_short_told(lines, 100))
