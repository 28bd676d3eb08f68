"""The Part screen: sections added, typed, moved, taken out; the shape drawn; the levels they make."""

from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from pneumen.core.part import Section
from pneumen.web.audio.sweep import start
from pneumen.web.gear.models import Interface
from pneumen.web.part.models import Backing, Part
from pneumen.web.part.picture import NARROW, WIDE, draw_shape
from tests.core.test_part import clicks
from tests.signals import wav
from tests.web.base import HTMX, DemoCase


class PartScreen(DemoCase):
    def fields(self, part=None, **changes):
        sent = {"role": "lead", "doubles": "1"}
        for row in (part or self.voice).sections.all():
            shown = {f"name-{row.pk}": row.name, f"bars-{row.pk}": row.bars, f"loud-{row.pk}": row.loudness_db}
            sent |= shown | {f"was-{name}": value for name, value in shown.items()}
        return sent | changes

    def test_page_and_fragment_tell_the_same(self):
        page = self.page("part:page")
        self.assertContains(page, "Chorus is the loudest")
        fragment = self.client.get(reverse("part:tried", args=[self.voice.pk]), self.fields(), **HTMX)
        self.assertContains(fragment, page.context["screen"].sentence)

    def test_with_whom_it_is_recorded_follows_what_is_stored_of_others_too(self):
        other = self.voice.song.parts.exclude(pk=self.voice.pk).first()
        for session, told in ((self.voice.session, f"Now with {other.name}."), (4, "Now on its own.")):
            Part.objects.filter(pk=other.pk).update(session=session)
            self.assertEqual(self.page("part:page").context["screen"].session_told, told)

    def test_own_gear_that_is_used_is_found_without_asking_again(self):
        mine = Interface.objects.create(owner=self.voice.owner, name="Mine", family="numbered")
        used = {"own_interface": mine, "bought_interface": mine.to_core().id}
        Part.objects.filter(pk=self.voice.pk).update(**used)
        part = Part.objects.whole().get(pk=self.voice.pk)
        with self.assertNumQueries(0):
            self.assertEqual(part.interface, mine.to_core())
            self.assertIn(mine.to_core().id, part.chain_name)

    def test_trying_out_stores_nothing_and_keeping_does(self):
        bridge = self.voice.sections.get(name="Bridge")
        louder = self.fields(**{f"loud-{bridge.pk}": "4"})
        tried = self.client.get(reverse("part:tried", args=[self.voice.pk]), louder, **HTMX)
        self.assertContains(tried, "Bridge is the loudest")
        bridge.refresh_from_db()
        self.assertEqual(bridge.loudness_db, -8)
        self.act("part:keep", **(louder | {"role": "double", "doubles": "2", f"words-{bridge.pk}": "la"}))
        bridge.refresh_from_db()
        self.voice.refresh_from_db()
        self.assertEqual((bridge.loudness_db, bridge.words), (4, "la"))
        self.assertEqual((self.voice.role, self.voice.doubles), ("double", 2))

    def test_the_loudest_section_moves_the_gain_screen(self):
        before = self.page("gain:page").context["screen"].figures.values["gain_db"]
        chorus = self.voice.sections.get(name="Chorus")
        self.act("part:keep", **self.fields(**{f"loud-{chorus.pk}": "6"}))
        # 6 dB louder, and the planned gain comes down as much.
        self.assertAlmostEqual(self.page("gain:page").context["screen"].figures.values["gain_db"], before - 6, delta=1)

    def test_sections_come_move_and_go(self):
        self.act("part:add", self.harp, usual="1")
        self.act("part:add", self.harp, name="Solo")
        self.act("part:add", self.harp, name="Verse", own="Rain")
        names = lambda: [row.name for row in self.harp.sections.all()]  # noqa: E731 - asked again after each change
        self.assertEqual(names(), ["Verse", "Chorus", "Verse", "Bridge", "Chorus", "Solo", "Rain"])
        self.act("part:move", self.harp, section=self.harp.sections.last().pk, up="1")
        self.assertEqual(names()[-2:], ["Rain", "Solo"])
        self.act("part:remove", self.harp, section=self.harp.sections.first().pk)
        self.assertEqual(names()[0], "Chorus")
        self.act("part:add", self.harp, name=" ")
        self.assertContains(self.page("part:page", self.harp), "must not be empty")

    def test_faults_are_told_and_nothing_is_stored(self):
        chorus = self.voice.sections.get(name="Chorus")
        for field, value, words in (
            (f"bars-{chorus.pk}", "0", "Bars must be between"),
            (f"loud-{chorus.pk}", "99", "Loudness must be between"),
            (f"loud-{chorus.pk}", "loud", "must be a number"),
            (f"name-{chorus.pk}", " ", "must not be empty"),
            ("doubles", "900", "Doubles must be between"),
        ):
            with self.subTest(field):
                answer = self.act("part:keep", **self.fields(**{field: value}))
                self.assertContains(answer, words, status_code=422)
        chorus.refresh_from_db()
        self.assertEqual((chorus.bars, chorus.loudness_db), (16, 0))

    def test_two_tabs_lose_nothing_of_each_other(self):
        chorus, bridge = (self.voice.sections.get(name=name) for name in ("Chorus", "Bridge"))
        one, other = self.fields(**{f"loud-{chorus.pk}": "3"}), self.fields(**{f"bars-{bridge.pk}": "12"})
        self.act("part:keep", **one)
        self.act("part:keep", **other)  # its page still showed the chorus as it was
        chorus.refresh_from_db()
        bridge.refresh_from_db()
        self.assertEqual((chorus.loudness_db, bridge.bars), (3, 12))

    def test_what_is_tried_out_counts_for_the_levels_too(self):
        chorus = self.voice.sections.get(name="Chorus")
        before = dict(row[:2] for row in self.page("part:page").context["screen"].reading)
        louder = self.fields(**{f"loud-{chorus.pk}": "6"})
        tried = self.client.get(reverse("part:tried", args=[self.voice.pk]), louder, **HTMX)
        after = dict(row[:2] for row in tried.context["screen"].reading)
        self.assertEqual(int(after["Loudest peak"]) - int(before["Loudest peak"]), 6)

    def test_another_persons_part_is_not_there(self):
        for name in ("part:page", "part:tried"):
            self.assertEqual(self.client.get(reverse(name, args=[99_999])).status_code, 404)


class BackingTrack(DemoCase):
    def send(self, content, name="bed.wav"):
        file = SimpleUploadedFile(name, content, "audio/wav")
        with self.captureOnCommitCallbacks(execute=True):
            return self.client.post(reverse("part:backing", args=[self.voice.pk]), {"backing": file}, follow=True)

    def test_it_is_taken_in_with_its_tempo(self):
        page = self.send(wav(clicks(92)))
        backing = Backing.objects.get(song=self.song)
        self.assertAlmostEqual(backing.tempo_bpm, 92, 0)
        self.assertContains(page, "The tempo was found in the file.")
        self.assertContains(page, "set the project to one rate")  # 48 kHz against a song at 44.1
        self.assertTrue(backing.audio.path.exists())

    def test_tempo_and_zero_are_typed_and_checked(self):
        self.send(wav(clicks(92)))
        self.act("part:keep-backing", tempo="184,5", zero="0.5")
        backing = Backing.objects.get(song=self.song)
        self.assertEqual((backing.tempo_bpm, backing.zero_s, backing.tempo_found), (184.5, 0.5, False))
        answer = self.act("part:keep-backing", tempo="9999", zero="0")
        self.assertContains(answer, "Tempo must be between", status_code=422)
        self.assertContains(answer, 'value="9999"', status_code=422)  # what was typed is not lost
        backing.refresh_from_db()
        self.assertEqual(backing.tempo_bpm, 184.5)

    def test_another_one_takes_its_place_and_it_can_go(self):
        self.send(wav(clicks(92)))
        first = Backing.objects.get(song=self.song).audio.path
        self.send(wav(clicks(120)))
        second = Backing.objects.get(song=self.song).audio.path
        self.assertFalse(first.exists())
        start()
        self.assertTrue(second.exists())
        self.act("part:backing", away="1")
        self.assertFalse(Backing.objects.exists() or second.exists())

    def test_bad_files_leave_nothing_behind(self):
        for content, words in ((b"", "empty"), (b"hello" * 99, "not a recording")):
            self.assertContains(self.send(content), words)
        self.assertFalse(Backing.objects.exists())
        self.assertEqual(list(settings.AUDIO.glob("*/*")), [])


class Picture(DemoCase):
    SECTIONS = ((1, Section(name="Verse", bars=16, loudness_db=-3)), (2, Section(name="Chorus", bars=8, loudness_db=3)))

    def test_width_goes_with_bars_and_height_with_loudness(self):
        for frame in (WIDE, NARROW):
            verse, chorus = draw_shape(self.SECTIONS, 85, frame).blocks
            self.assertAlmostEqual((verse.width + 4) / (chorus.width + 4), 2, 1)
            self.assertLess(chorus.y, verse.y)
            self.assertEqual((verse.loudest, chorus.loudest), (False, True))
            self.assertAlmostEqual(verse.y - chorus.y, 6 * draw_shape(self.SECTIONS, 85, frame).px_per_db, delta=0.2)

    def test_many_short_sections_stay_on_the_paper(self):
        many = tuple((n, Section(name=f"Part number {n}", bars=1 + n % 3, loudness_db=-n)) for n in range(30))
        for frame in (WIDE, NARROW):
            blocks = draw_shape(many, 85, frame).blocks
            self.assertLessEqual(blocks[-1].x + blocks[-1].width, frame.right)
