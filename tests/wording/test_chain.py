"""Faults of chains and steps of plugging in sentences: every code whole, with its figures filled in."""

from pneumen.core.hookup import faults_of, plugging_acts, unplugging_acts
from pneumen.wording.chain import remedy_of, why_of
from pneumen.wording.plugging import act_told
from tests.chains import BOX, CONDENSER, FED, SOUND, WRONG, cable, chain, device
from tests.wording.base import Sentences


class Faults(Sentences):
    def test_every_code_has_its_why_and_its_remedy(self):
        for code, (devices, cables) in WRONG.items():
            for fault in faults_of(chain(devices, cables)):
                with self.subTest(code, fault=fault.code):
                    self.assertClean(why_of(fault))
                    self.assertClean(remedy_of(fault))

    def told(self, code):
        return next(one for one in faults_of(chain(*WRONG[code])) if one.code == code)

    def test_lengths_follow_the_readers_unit(self):
        self.assertIn("8 m of unbalanced cable", why_of(self.told("long-unbalanced")))
        self.in_feet()
        self.assertIn("26 ft 3 in of unbalanced cable", why_of(self.told("long-unbalanced")))

    def test_no_remedy_touches_a_mains_earth(self):
        self.assertIn("never defeat a mains earth", remedy_of(self.told("ground-loop")))

    def test_what_holds_phantom_up_is_named(self):
        booster = device("boost", "inline-booster")
        joined = [cable("cond.out", "boost.in"), cable("boost.out", "box.in1")]
        fault = faults_of(chain([CONDENSER, booster, FED], joined))[0]
        self.assertIn("boost keeps 48 V from cond", why_of(fault))

    def test_an_interface_into_which_nothing_leads(self):
        self.assertIn("no source leads into box", why_of(faults_of(chain([BOX]))[0]))


class Steps(Sentences):
    def test_every_step_is_a_sentence(self):
        for devices, cables in (*SOUND, *WRONG.values()):
            whole = chain(devices, cables)
            for act in (*plugging_acts(whole), *unplugging_acts(whole)):
                self.assertSentence(act_told(act))
