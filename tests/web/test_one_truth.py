"""One truth: whatever two pages show of a part is one figure, and each advice delivers what it promised."""

from django.contrib.auth import get_user_model
from django.db import transaction
from django.test import TestCase
from django.urls import reverse

from pneumen.core.forecast import advise
from pneumen.core.kit import ROUTES
from pneumen.web.gain.show import gain_screen
from pneumen.web.gain.todo import todo_of
from pneumen.web.kit.services import in_use, recommended_kit
from pneumen.web.kit.show import kit_screen
from pneumen.web.part.services import keep as keep_part
from pneumen.web.room.advice import advices_of
from pneumen.web.settle import outcome_of, settle
from pneumen.web.song.models import Song
from pneumen.web.song.services import add_part, create_song
from tests.songs import STEPS, answer, figures_on, fresh, random_song, verdicts_on

SONGS = 40
PRESSES = 4
KNOTS = {"takes": "take"}
STANDS_ON = {
    "direct_to_reverberant_db": ("start", "kit", "room", "place"),
    "clean_range_db": ("start", "kit", "gain"),
    "distance_m": ("start", "place", "gain"),
    "gain_db": ("start", "gain"),
    "peak_dbfs": ("start", "gain"),
    "rt60_s": ("start", "room"),
}
"""Where the contract (figures on pages) has each figure, as far as it exists."""


def gather(client, part):
    """Return {(part, name): {page: values}} over all pages of a part; every page must answer.

    Verdicts are gathered as well: what a page says of itself, and what the thread on every page says of it.
    """
    found = {}
    for step in STEPS:
        answered = client.get(f"/parts/{part.pk}/{step}/")
        assert answered.status_code == 200, f"{step} of {part.source} answers {answered.status_code}"
        page = answered.content.decode()
        for key, values in figures_on(page).items():
            found.setdefault(key, {}).setdefault(step, set()).update(values)
        own, thread = verdicts_on(page)
        for knot, verdict in thread.items():
            found.setdefault((part.pk, f"verdict of {knot}"), {})[f"thread on {step}"] = {verdict}
        if own:
            found[part.pk, f"verdict of {KNOTS.get(step, step)}"][step] = {own}
    return found


def disagreements(found):
    """Return the figures that stand on the pages with more than one value."""
    return {key: pages for key, pages in found.items() if len(set().union(*pages.values())) > 1}


def missing(found, part):
    """Return what a miked (or plugged) part's pages should show, and do not."""
    outcome = outcome_of(part)
    there = {"clean_range_db", "peak_dbfs"}
    there |= {"gain_db"} if outcome.setup.chain.gain_marking != "none" else set()
    there |= {"distance_m", "direct_to_reverberant_db"} if outcome.air else set()
    there |= {"rt60_s"} if outcome.air and outcome.air.rt60_s else set()
    return [(name, page) for name in there for page in STANDS_ON[name] if page not in found.get((part.pk, name), {})]


def press_through(client, part):
    """Press the first advice of Gain until none is left; return the presses with what was promised and came."""
    pressed = []
    while len(pressed) <= PRESSES:
        part = fresh(part)
        advice = advise(settle(part))
        if not advice.actions:
            break
        todo = todo_of(advice.actions[0], advice.before)
        promised = advice.actions[0].after
        client.post(reverse("gain:apply", args=[part.pk]), todo.values)
        after = outcome_of(fresh(part))
        pressed.append(
            (
                todo.kind,
                abs(after.levels.peak_dbfs - promised.levels.peak_dbfs),
                abs(after.levels.clean_range_db - promised.levels.clean_range_db),
                abs(after.air.lead_db - promised.air.lead_db) if after.air else 0.0,
            )
        )
    return pressed


class Laws:
    """What holds for every song; half of them in each class, so that two processes share them."""

    seeds = ()

    def test_all_pages_tell_one_figure_and_each_advice_delivers(self):
        faults = []
        for seed in self.seeds:
            parts = random_song(seed)
            self.client.force_login(parts[0].owner)
            faults += [f"song {seed}: {fault}" for fault in self.pages_of(parts)]
            for check in (self.advice_of, self.room_of):
                with transaction.atomic():
                    faults += [f"song {seed}: {fault}" for fault in check(parts)]
                    transaction.set_rollback(True)
        self.assertEqual(faults, [], "\n".join(faults))

    def pages_of(self, parts):
        """Every page answers, with one figure for one question."""
        for part in parts:
            found = gather(self.client, part)
            for key, pages in disagreements(found).items():
                yield f"{part.source}: {key} is {pages}"
            for name, page in missing(found, part):
                yield f"{part.source}: {name} does not stand on {page}"

    def advice_of(self, parts):
        """What is pressed brings what it promised, and the last press ends clear or names the conflict."""
        part = parts[0]
        pressed = press_through(self.client, part)
        if len(pressed) > PRESSES:
            yield f"{part.source}: never ends: {pressed}"
        for kind, *errors in pressed:
            if max(errors) >= 0.5:
                yield f"{part.source}: {kind} promised something else: {errors}"
        screen = gain_screen(fresh(part))
        if screen.verdict.verdict != "clear" and "Neither distance nor gain mends it" not in screen.sentence:
            yield f"{part.source}: ends in {screen.sentence}"

    def room_of(self, parts):
        """So does what the room advises."""
        part, pressed = fresh(parts[0]), []
        while not part.is_plugged and len(pressed) <= PRESSES:
            found = [one for one in advices_of(part) if one.action]
            if not found:
                return
            before, first = outcome_of(part).air, found[0]
            address = {"planned": "gain:planned", "hang-best": "room:hang-best", "spot": "room:spot"}[first.action]
            self.client.post(reverse(address, args=[part.pk]), first.values)
            part = fresh(part)
            after = outcome_of(part).air
            gained = before.noise_dba - after.noise_dba if first.action == "spot" else after.lead_db - before.lead_db
            pressed.append(f"{first.action} {first.gain_db:.1f}")
            if abs(gained - first.gain_db) >= 0.5:
                yield f"{part.source}: {first.title} promised {first.gain_db:.2f} dB, gave {gained:.2f}"
        if pressed and len(pressed) > PRESSES:
            yield f"{part.source}: the room never stops advising: {pressed}"


class EvenSongs(Laws, TestCase):
    seeds = range(0, SONGS, 2)


class OddSongs(Laws, TestCase):
    seeds = range(1, SONGS, 2)


class AtOnce(TestCase):
    def test_a_kit_costs_the_same_wherever_it_is_told_also_for_parts_recorded_at_once(self):
        pairs = (
            ("voice-pop", "acoustic-guitar"),
            ("voice-soft", "voice-soft"),
            ("violin", "keyboard"),
            ("snare-drum", "horn"),
        )
        for number, sources in enumerate(pairs):
            for route in ROUTES:
                song = create_song(get_user_model().objects.create(username=f"{number}-{route}"), "Two")
                first, second = song.parts.get(), add_part(song.owner, song, sources[1])
                for part, source in zip((first, second), sources, strict=True):
                    answer(part, source=source, budget="400", route=route)
                keep_part(fresh(second), {}, {"session": 1})
                song = Song.objects.whole().get(pk=song.pk)
                kit = recommended_kit(song)
                told = kit.total if kit else None
                with self.subTest(sources=sources, route=route):
                    self.assertIn(told, (None, in_use(song).total))

    def test_a_singer_with_a_guitar_and_one_usb_microphone_is_told_to_record_one_after_the_other(self):
        song = create_song(get_user_model().objects.create(username="both"), "Both at once")
        voice, guitar = song.parts.first(), add_part(song.owner, song, "acoustic-guitar")
        answer(voice, source="voice-pop", microphone="usb-condenser", budget="150", size="small")
        for session, told in ((fresh(voice).session, "record one part at a time (then 52 does)"), (2, "52 completes")):
            keep_part(fresh(guitar), {}, {"session": session})
            kit = kit_screen(Song.objects.whole().get(pk=song.pk))
            self.assertIn(told, kit.sentence)
        self.assertEqual({one.gear for one in kit.parts}, {"My USB condenser"})
        self.assertEqual(kit.verdict, "clear")
