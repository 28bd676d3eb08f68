"""Every fault of a chain is brought about in the running application by what a person can choose, and cured there."""

from pneumen.core.hookup import cure_of, faults_of
from pneumen.core.kit import built_in_catalogue
from pneumen.web.hookup.models import Choice
from pneumen.web.hookup.services import chain_of, connection_of
from pneumen.web.hookup.show import hookup_screen
from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of
from tests.chains import WRONG
from tests.web.base import OPTIONS, DemoCase, answers

GUITAR = {"source": "guitar-direct", "interface": "bare-knob"}
ON_AMP = (("box", "IN", "active"), ("also", "amplifier", "on"))
SITUATIONS = {
    "ribbon-phantom": ({"microphone": "ribbon", "interface": "bare-knob"}, (("phantom", "IN", "on"),)),
    "condenser-no-phantom": ({}, (("phantom", "IN", "off"),)),
    "phantom-missing": (GUITAR, (("box", "IN", "active"), ("phantom", "IN", "off"))),
    "phantom-unbalanced": (
        {"microphone": "dynamic", "interface": "bare-knob"},
        (("phantom", "IN", "on"), ("balanced", "IN", "unbalanced")),
    ),
    "phantom-sag": ({}, (("current", "Meadowsweet One", "14"),)),
    "pickup-loading": (GUITAR, (("input", "IN", "mic"),)),
    "long-unbalanced": (GUITAR, (("length", "IN", "8"),)),
    "line-into-mic": ({"source": "keyboard", "interface": "bare-knob"}, (("input", "IN", "mic"),)),
    "mic-into-line": ({"microphone": "dynamic", "interface": "bare-knob"}, (("input", "IN", "line"),)),
    "overload": (
        {
            "source": "drum-kit",
            "loudness": "loud",
            "microphone": "large-condenser",
            "interface": "bare-knob",
            "max_input": "-12",
        },
        (),
    ),
    "low-gain": (
        {
            "source": "voice-soft",
            "loudness": "soft",
            "microphone": "ribbon",
            "interface": "bare-knob",
            "gain_max": "40",
        },
        (),
    ),
    "wrong-di": (GUITAR, (("box", "IN", "passive"),)),
    "amp-no-load": (GUITAR, (*ON_AMP, ("speaker", "Valve amplifier", "nothing"))),
    "load-too-small": (
        GUITAR,
        (*ON_AMP, ("speaker", "Valve amplifier", "load box"), ("watt", "Valve amplifier", "100")),
    ),
    "speaker-lead": (GUITAR, (*ON_AMP, ("lead", "Speaker cabinet.in", "ts"))),
    "speaker-into-input": (GUITAR, (*ON_AMP, ("speaker", "Valve amplifier", "interface"))),
    "ground-loop": (GUITAR, (*ON_AMP, ("outlet", "Valve amplifier", "other"))),
    "signal-loop": ({}, (("also", "insert", "on"), ("returns", "Insert preamp", "itself"))),
    "no-signal-path": ({}, (("plugged", "IN", "out"),)),
    "open-speakers": ({"monitors": True}, ()),
    "not-driven": ({"monitors": True}, (("monitor", "Left monitor", "passive"),)),
    "headphone-adapter": ({}, (("plug", "Headphones", "OTHER"),)),
    "usb-mic-and-interface": ({}, (("also", "other-microphone", "on"),)),
    "not-enough-inputs": ({"together": 3}, ()),
    "phantom-shared-ribbon": ({"together": 2, "microphone": "ribbon"}, (("switch", "HUB", "all"),)),
    "two-interfaces": ({"together": 2, "interfaces": 2}, ()),
    "two-clocks": ({}, (("ears", "Headphones", "computer"),)),
    "wireless-headset": ({}, (("also", "headset", "on"),)),
    "bus-power": ({}, (("supply", "HUB", "computer"), ("watt", "HUB", "5"))),
    "rate-mismatch": ({}, (("rate", "HUB", "96000"),)),
    "no-driver": ({"item": {"systems": ("mac",)}}, (("system", "Computer", "linux"),)),
    "mono-on-stereo": ({}, (("track", "IN", "stereo"),)),
    "loading": ({"microphone": "large-condenser", "impedance": "4000"}, ()),
}
"""For each code how it comes about: what is answered on Start (or set up), and what is then chosen at the joints."""
BY_HAND = {"no-driver", "loading", "phantom-sag"}
"""Another device cures these, no press."""


class Codes(DemoCase):
    def part(self):
        return Part.objects.whole().get(pk=self.voice.pk)

    def codes(self):
        return {one.code for one in faults_of(chain_of(self.part()))}

    def set_up(self, together=1, interfaces=1, monitors=False, item=None, **answered):
        """Answer Start for the first part, or for several that are recorded at once."""
        if monitors:
            self.act("kit:keep", **OPTIONS, monitors="on")
        if answered or together > 1:
            self.act("start:page", **answers(self.voice, microphone="dynamic", interface="bare-knob") | answered)
        own = f"own:{self.part().own_interface_id}"
        for part in (self.harp, self.clarinet)[: together - 1]:
            interface = own if interfaces == 1 else "numbered"
            sent = {"microphone": "large-condenser", "interface": interface}
            self.act("start:page", part, **answers(part, **sent))
            self.act("part:keep", part, session="1")
        if item:
            self.edit_gear(item)

    def edit_gear(self, facts):
        """Take an interface of the catalogue, and change its data sheet there."""
        item = next(one for one in built_in_catalogue() if one.kind == "interface")
        Part.objects.filter(pk=self.voice.pk).update(bought_interface=item.id, own_interface=None)
        part = self.part()
        mark, _ = part.owner.gear_marks.get_or_create(owner=part.owner, item_id=item.id)
        mark.item = type(item)(**{name: getattr(item, name) for name in item.__slots__} | facts)
        mark.save()

    def at(self, place):
        part = self.part()
        connection = connection_of(part)
        way = connection.ways[[one.pk for one in connection.parts].index(part.pk)]
        hub = next(one for one in way if connection.chain.by_id[one].kind == "interface")
        if place == "HUB":
            return hub
        joint = next(one for one in connection.chain.into(hub) if one.from_device in way)
        return joint.ends_at if place == "IN" else place

    def choose(self, what, at, value):
        if value == "OTHER":
            plug = chain_of(self.part()).by_id[at].plug
            value = "3.5 mm" if plug == "6.35 mm" else "6.35 mm"
        sent = {"what": what, "at": self.at(at), ("length" if what == "length" else "value"): value}
        answer = self.act("hookup:keep", **sent)
        self.assertEqual(answer.status_code, 302, answer.context and answer.context["problem"])

    def press(self, code):
        """Press the button beside a fault on the page, as long as it is there."""
        for _ in range(4):
            part = self.part()
            chain = chain_of(part)
            fault = next((one for one in faults_of(chain) if one.code == code), None)
            if fault is None:
                return
            told = [one for one in hookup_screen(part).faults if one.cure]
            cure = next(
                one.cure for one in told if one.verdict == fault.verdict and self.is_cure(chain, fault, one.cure)
            )
            self.act("hookup:keep", what=cure.what, at=cure.at, value=cure.value)

    @staticmethod
    def is_cure(chain, fault, cure):
        return cure == cure_of(chain, fault) or cure.what == "plugged"

    def test_every_code_comes_about_and_is_cured_by_a_press(self):
        self.assertEqual(set(SITUATIONS), set(WRONG))
        for code, (set_up, choices) in SITUATIONS.items():
            with self.subTest(code):
                self.start_afresh()
                self.set_up(**set_up)
                for choice in choices:
                    self.choose(*choice)
                self.assertIn(code, self.codes())
                page = self.page("hookup:page")
                self.assertEqual(page.status_code, 200)
                if code not in BY_HAND:
                    self.press(code)
                    self.assertNotIn(code, self.codes())
                    self.assertEqual(self.page("hookup:page").status_code, 200)

    def start_afresh(self):
        """Undo what the last one changed."""
        Choice.objects.all().delete()
        self.owner.gear_marks.all().delete()
        for session, part in enumerate((self.voice, self.harp, self.clarinet), 1):
            part.save()  # every field as the demo has it
            Part.objects.filter(pk=part.pk).update(session=session)
        self.song.save()


class Follow(DemoCase):
    """What is put before an input by one press is in the levels, the order and the packing list at once."""

    def fresh(self):
        return Part.objects.whole().get(pk=self.voice.pk)

    def loud(self):
        sent = {"source": "drum-kit", "loudness": "loud", "microphone": "large-condenser", "interface": "bare-knob"}
        self.act("start:page", **answers(self.voice, **sent, max_input="-12"))

    def test_a_pad_counts_in_the_levels_the_order_and_the_list(self):
        self.loud()
        before = outcome_of(self.fresh()).levels.headroom_db
        fault = next(one for one in hookup_screen(self.fresh()).faults if one.cure)
        self.assertEqual(fault.cure.what, "pad")
        self.act("hookup:keep", what="pad", at=fault.cure.at, value=fault.cure.value)
        part = self.fresh()
        self.assertGreater(outcome_of(part).levels.headroom_db, before + 5)
        self.assertEqual(part.pad.gain_db, -float(fault.cure.value))
        screen = hookup_screen(part)
        self.assertTrue(any(part.pad.name in step.told for step in screen.steps))
        self.assertContains(self.page("start:page"), part.pad.name)  # the packing list
        for page in ("kit:page", "gain:page", "place:page", "part:page", "room:page", "take:page"):
            self.assertEqual(self.page(page).status_code, 200, page)

    def test_what_was_put_in_by_hand_stays_through_a_new_plan_and_is_reset_by_a_press(self):
        self.loud()
        fault = next(one for one in hookup_screen(self.fresh()).faults if one.cure)
        self.act("hookup:keep", what="pad", at=fault.cure.at, value=fault.cure.value)
        self.act("kit:keep", **OPTIONS | {"budget": "900"})
        self.assertIsNotNone(self.fresh().pad)
        change = next(one for one in hookup_screen(self.fresh()).changes if one.what == "pad")
        self.assertIn("20 dB" if fault.cure.value == "20" else f"{fault.cure.value} dB", change.told)
        self.act("hookup:forget", what=change.what, at=change.at)
        self.assertIsNone(self.fresh().pad)
        self.assertEqual(hookup_screen(self.fresh()).changes, ())

    def test_a_pad_with_a_control_is_turned_at_its_joint(self):
        self.loud()
        at = next(one for one in hookup_screen(self.fresh()).faults if one.cure).cure.at
        self.act("hookup:keep", what="pad", at=at, value="variable")
        before, chain_name = outcome_of(self.fresh()).levels, self.fresh().chain_name
        self.assertEqual(self.fresh().pad.gain_db, -3)  # as little as it can
        pick = next(one for joint in hookup_screen(self.fresh()).joints for one in joint.picks if one.what == "pad-db")
        self.assertEqual((pick.now, len(pick.options)), ("3", 28))
        fault = next(one for one in hookup_screen(self.fresh()).faults if one.cure)
        self.assertEqual(fault.cure.what, "pad-db")
        self.act("hookup:keep", what="pad-db", at=at, value=fault.cure.value)
        part = self.fresh()
        self.assertEqual(part.pad.gain_db, -float(fault.cure.value))
        self.assertFalse([one for one in hookup_screen(part).faults if one.cure and one.cure.what.startswith("pad")])
        self.assertGreater(outcome_of(part).levels.headroom_db, before.headroom_db)
        self.assertNotEqual(part.chain_name, chain_name)  # a take before it was recorded otherwise
        told = next(one for one in hookup_screen(part).changes if one.what == "pad-db")
        self.assertIn(f"{fault.cure.value} dB", told.told)
        self.act("hookup:forget", what=told.what, at=told.at)
        self.assertEqual(self.fresh().pad.gain_db, -3)

    def test_a_control_is_set_only_where_there_is_one(self):
        self.loud()
        at = next(one for one in hookup_screen(self.fresh()).faults if one.cure).cure.at
        for pad in ("none", "20"):
            self.act("hookup:keep", what="pad", at=at, value=pad)
            answer = self.act("hookup:keep", what="pad-db", at=at, value="12")
            self.assertContains(answer, "needs a stepped or a variable pad", status_code=422)

    def test_another_source_has_no_pad_of_the_last_one(self):
        self.loud()
        fault = next(one for one in hookup_screen(self.fresh()).faults if one.cure)
        self.act("hookup:keep", what="pad", at=fault.cure.at, value=fault.cure.value)
        part = self.fresh()
        self.act("start:page", **answers(part, source="voice-soft", microphone="dynamic", interface="bare-knob"))
        self.assertIsNone(self.fresh().pad)

    def test_a_box_is_bought_and_left_out_again(self):
        self.act("start:page", **answers(self.voice, source="guitar-direct", interface="bare-knob"))
        self.assertIsNone(self.fresh().box)
        joint = next(one for one in connection_of(self.fresh()).chain.cables if one.connector == "ts").ends_at
        self.act("hookup:keep", what="box", at=joint, value="active")
        self.assertTrue(self.fresh().box.active)
        self.assertEqual(hookup_screen(self.fresh()).faults, ())
        self.act("hookup:keep", what="box", at=joint, value="none")
        self.assertIsNone(self.fresh().box)

    def test_a_part_recorded_by_itself_takes_a_free_session(self):
        for part in (self.harp, self.clarinet):
            self.act("part:keep", part, session="1")
        joint = connection_of(self.fresh()).chain
        at = next(one.ends_at for one in joint.cables if one.from_device == connection_of(self.fresh()).ways[0][0])
        self.act("hookup:keep", what="apart", at=at, value="on")
        self.assertEqual(self.fresh().session, 2)

    def test_what_is_nowhere_is_refused_in_words(self):
        for what, value in (("pad", "20"), ("booster", "on"), ("apart", "on"), ("rate", "96000")):
            answer = self.act("hookup:keep", what=what, at="Nowhere.in1", value=value)
            self.assertContains(answer, "is not in this chain", status_code=422)


class AtOnce(DemoCase):
    """What is recorded at once has to go in at once, and every screen says so."""

    def together(self, **answered):
        sent = {"microphone": "dynamic", "interface": "bare-knob"} | answered
        self.act("start:page", **answers(self.voice, **sent))
        own = f"own:{Part.objects.get(pk=self.voice.pk).own_interface_id}"
        for part in (self.harp, self.clarinet):
            self.act("start:page", part, **answers(part, microphone="dynamic", interface=own))
            self.act("part:keep", part, session="1")

    def test_three_into_two_is_no_complete_kit_on_start(self):
        self.together()
        page = self.page("start:page")
        self.assertContains(page, "Not all at once: 3 channels are wanted, 2 go in")
        self.assertNotContains(page, "complete kit for the song for")
        kit = self.page("kit:page").context["screen"]
        self.assertEqual(kit.verdict, "watch")
        self.assertIn("Not all at once: 3 channels are wanted, 2 go in.", kit.sentence)
        self.act("part:keep", self.clarinet, session="2")
        self.assertNotContains(self.page("start:page"), "Not all at once")

    def test_two_pickups_share_no_instrument_input(self):
        self.act("start:page", **answers(self.voice, source="guitar-direct", interface="numbered"))
        own = f"own:{Part.objects.get(pk=self.voice.pk).own_interface_id}"
        told = answers(self.harp, source="guitar-direct", interface=own)
        self.act("start:page", self.harp, **told)
        self.assertFalse(self.boxes(), "one after the other, both use the one input")
        self.act("part:keep", self.harp, session="1")
        self.assertEqual(len(self.boxes()), 1, "at once, one goes through a box")
        self.assertNotContains(self.page("kit:page"), "Not all at once")
        codes = {one.code for part in (self.voice, self.harp) for one in hookup_screen(self.stored(part)).faults}
        self.assertNotIn("pickup-loading", codes)

    def stored(self, part):
        return Part.objects.whole().get(pk=part.pk)

    def boxes(self):
        return [box for box in (self.stored(part).box for part in (self.voice, self.harp)) if box]

    def test_a_switch_nobody_told_of_is_asked_for_where_it_could_destroy_a_ribbon(self):
        self.act("start:page", **answers(self.voice, microphone="ribbon", interface="bare-knob"))
        own = f"own:{Part.objects.get(pk=self.voice.pk).own_interface_id}"
        self.act("start:page", self.harp, **answers(self.harp, microphone="large-condenser", interface=own))
        self.act("part:keep", self.harp, session="1")
        part = Part.objects.whole().get(pk=self.voice.pk)
        fault = next(one for one in hookup_screen(part).faults if "a switch of its own" in one.why)
        self.assertEqual(fault.verdict, "watch")
        self.act("hookup:keep", what=fault.cure.what, at=fault.cure.at, value=fault.cure.value)
        part = Part.objects.whole().get(pk=self.voice.pk)
        self.assertEqual(hookup_screen(part).faults, ())
        self.act("hookup:keep", what="switch", at=fault.cure.at, value="all")
        part = Part.objects.whole().get(pk=self.voice.pk)
        self.assertEqual(hookup_screen(part).faults[0].verdict, "stop")
