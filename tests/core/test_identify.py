"""What is this microphone: Bayes' rule by hand, odds that add up, and a phantom rule no odds can move."""

import itertools
import unittest

from pneumen.core.errors import UnknownName
from pneumen.core.gear import KINDS, LOOKS, identify


class Identify(unittest.TestCase):
    def answers(self):
        return [[(look.slug, answer) for answer in look.answers] for look in LOOKS]

    def test_odds_add_up_whatever_is_seen(self):
        for given in itertools.product(*self.answers()):
            found = identify(dict(given))
            self.assertAlmostEqual(sum(share for _, share in found.odds), 1, 9)
            self.assertEqual({kind for kind, _ in found.odds}, set(KINDS))

    def test_one_look_by_hand(self):
        """Bayes' rule: prior times how often each shows it, over the sum of all."""
        look = LOOKS[0]
        likely = {kind: share * look.answers["usb"].get(kind, look.usual) for kind, share in KINDS.items()}
        found = dict(identify({"plug": "usb"}).odds)
        for kind, one in likely.items():
            self.assertAlmostEqual(found[kind], one / sum(likely.values()), 12)

    def test_the_order_of_looks_does_not_matter(self):
        one, other = identify({"plug": "xlr", "weight": "heavy"}), identify({"weight": "heavy", "plug": "xlr"})
        for kind, share in one.odds:
            self.assertAlmostEqual(share, dict(other.odds)[kind], 12)

    def test_odds_never_release_48_v(self):
        for given in itertools.product(*self.answers()):
            told = dict(given)
            if identify(told).phantom == "printed":
                self.assertEqual(told["printed"], "48v")
        sure = {"plug": "xlr", "opening": "side", "power": "none", "weight": "middle", "printed": "condenser"}
        found = identify(sure)
        self.assertGreater(found.odds[0][1], 0.9)
        self.assertEqual(found.phantom, "off")

    def test_what_cannot_carry_it_or_warns_of_it_never_gets_it(self):
        for told in ({"plug": "usb"}, {"power": "own-supply"}, {"printed": "no-48v"}, {"plug": "many-pins"}):
            self.assertEqual(identify(told).phantom, "never")

    def test_the_next_look_is_the_one_that_tells_most(self):
        """After each answer of it the likeliest kind is surest on the average: counted by hand."""

        def expected(look):
            shown = [
                [share * answer.get(kind, look.usual) for kind, share in KINDS.items()]
                for answer in look.answers.values()
            ]
            return sum(max(one) for one in shown)

        best = max(LOOKS, key=expected)
        self.assertEqual(identify({}).next_look, best.slug)
        self.assertEqual(identify({look.slug: next(iter(look.answers)) for look in LOOKS}).next_look, "")

    def test_what_is_no_look_is_named(self):
        for told in ({"smell": "old"}, {"plug": "banana"}):
            with self.assertRaises(UnknownName):
                identify(told)
