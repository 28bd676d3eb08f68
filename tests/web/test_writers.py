"""Many at once: what one writes nobody else undoes. Real threads, each with its own connection to one file."""

import threading

from django.conf import settings
from django.contrib.auth import get_user_model
from django.db import connection
from django.test import Client, TransactionTestCase
from django.urls import reverse

from pneumen.core.kit import built_in_catalogue
from pneumen.demo.load import load_demo
from pneumen.web.part.models import Part
from pneumen.web.room.models import Room
from pneumen.web.song.models import Song
from pneumen.web.take.models import Lesson
from tests.web.base import answers

NOISE = {"noise_level_dba": "30", "noise_from_hour": "0", "noise_to_hour": "24"}
COVERING = {"covering_material": "duvet", "covering_width_m": "1", "covering_height_m": "1", "covering_count": "1"}


class ManyAtOnce(TransactionTestCase):
    def setUp(self):
        load_demo(fresh=False)
        self.owner = get_user_model().objects.get(username=settings.LOCAL_OWNER)
        self.song, self.part = Song.objects.get(), Part.objects.first()

    def at_once(self, *posts):
        """Send every (address, data) from a thread of its own, all let go together; return what each was answered."""
        gate, codes = threading.Barrier(len(posts)), []

        def send(address, data):
            try:
                client = Client()
                gate.wait()
                codes.append(client.post(address, data).status_code)
            finally:
                connection.close()

        threads = [threading.Thread(target=send, args=post) for post in posts]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(len(codes), len(posts))
        return codes

    def of_part(self, name, **data):
        return reverse(name, args=[self.part.pk]), data

    def test_forty_writers_lose_nothing(self):
        room = Room.objects.get(pk=self.song.room_id)
        noises, coverings, marks = room.noises.count(), room.coverings.count(), self.song.kit_marks.count()
        gear = [item.id for item in built_in_catalogue() if item.kind == "microphone"][:10]
        many = range(4)
        codes = self.at_once(
            *(self.of_part("room:noises", noise_called=f"Noise {n}", **NOISE | PLACE) for n in many),
            *(self.of_part("room:coverings", covering_label=f"Duvet {n}", **COVERING) for n in many),
            *(self.of_part("hookup:tick", step=f"step-{n}", done="on") for n in range(16)),
            *(self.of_part("kit:mark", item=item, mark="never") for item in gear),
            *(self.of_part("place:keep", distance=f"{20 + n}") for n in range(6)),
        )
        self.assertEqual(len(codes), 40)
        self.assertLessEqual(set(codes), {200, 204, 302})
        self.assertEqual(room.noises.count(), noises + len(many))
        self.assertEqual(room.coverings.count(), coverings + len(many))
        self.assertEqual(self.part.ticks.count(), 16)
        self.assertEqual(self.song.kit_marks.count(), marks + len(gear))
        self.assertIn(Part.objects.get(pk=self.part.pk).distance_m, [round((20 + n) / 100, 2) for n in range(6)])

    def test_a_start_save_does_not_undo_an_edit_beside_it(self):
        sent = answers(self.part)
        self.client.post(*self.of_part("start:page", **sent))
        shown = {f"was-{name}": value for name, value in sent.items()}
        for distance in ("21", "24", "27", "31", "33"):
            self.at_once(
                self.of_part("gain:keep", distance=distance),
                self.of_part("start:page", **(sent | shown | {"budget": f"2{distance}"})),
            )
            part = Part.objects.get(pk=self.part.pk)
            self.assertEqual((part.distance_m, part.song.budget), (float(distance) / 100, float(f"2{distance}")))

    def test_a_start_save_does_not_undo_what_a_take_teaches_beside_it(self):
        sent = answers(self.part)
        self.client.post(*self.of_part("start:page", **sent))
        shown = {f"was-{name}": value for name, value in sent.items()}
        levels = {"peak_db_spl": 93.0, "typical_db_spl": 81.0, "quiet_db_spl": 66.0, "at_m": 1.0}
        taught = {"owner": self.owner, "part": self.part, "levels": levels, "band_db": 1.5}
        taught |= {"other_chain_band_db": 3}
        for budget in range(300, 306):
            Lesson.objects.filter(part=self.part).delete()
            gate = threading.Barrier(2)

            def teach(gate=gate):
                try:
                    gate.wait()
                    Lesson.objects.create(**taught)
                finally:
                    connection.close()

            def save(gate=gate, budget=budget):
                try:
                    gate.wait()
                    Client().post(*self.of_part("start:page", **(sent | shown | {"budget": f"{budget}"})))
                finally:
                    connection.close()

            threads = [threading.Thread(target=one) for one in (teach, save)]
            for thread in threads:
                thread.start()
            for thread in threads:
                thread.join()
            part = Part.objects.get(pk=self.part.pk)
            self.assertEqual((Lesson.objects.get(part=part).levels, part.song.budget), (levels, budget))

    def test_of_all_parts_deleted_at_once_one_stays(self):
        self.at_once(*((reverse("song:delete-part", args=[part.pk]), {}) for part in self.song.parts.all()))
        self.assertEqual(self.song.parts.count(), 1)


PLACE = {"noise_x_m": "1", "noise_y_m": "1", "noise_z_m": "0.5"}
