"""The offer of other gear on Gain, for a part whose own is at its end."""

import re

from django.urls import reverse

from pneumen.web.part.models import Part
from pneumen.web.settle import outcome_of
from tests.web.base import HTMX, DemoCase, answers


class BetterGear(DemoCase):
    """Gain offers another kit where the part's own gear is at its end, and never swaps it in."""

    def owner_of(self, **changes):
        """Return a soft voice in a still room, with a deaf ribbon behind a bare knob of its own."""
        self.client.post("/songs/new/", {"name": "Lullaby"})
        part = Part.objects.get(song__name="Lullaby")
        sent = {
            "microphone": "ribbon",
            "sensitivity": "0.5",
            "interface": "bare-knob",
            "loudness": "soft",
            "size": "medium",
        }
        sent |= {"furnishing": "soft", "noise": "still"} | changes
        self.client.post(reverse("start:page", args=[part.pk]), answers(part, source="voice-soft", **sent))
        return Part.objects.get(pk=part.pk)

    def offer(self, part):
        return self.client.get(reverse("kit:better", args=[part.pk]), **HTMX)

    def test_it_names_the_gear_what_it_brings_and_what_the_whole_kit_costs(self):
        part = self.owner_of()
        page = self.page("gain:page", part)
        self.assertTrue(page.context["screen"].gear_is_at_its_end)
        self.assertContains(page, reverse("kit:better", args=[part.pk]))
        found = self.offer(part)
        offer = found.context["offer"]
        kit = self.page("kit:page", part, kit=offer.number).context["screen"]
        self.assertIn(f"the whole kit costs {kit.packing.total}.", offer.told)
        told = float(re.search(r"leave (\d+) dB of clean range", offer.told)[1])
        self.assertGreater(told, outcome_of(part).levels.clean_range_db + 2)

    def test_taking_it_delivers_what_was_told(self):
        part = self.owner_of()
        offer = self.offer(part).context["offer"]
        self.act("kit:take", part, kit=str(offer.number))
        levels = outcome_of(Part.objects.whole().get(pk=part.pk)).levels
        told = [float(one) for one in re.findall(r"leave (\d+) dB|peak at \N{MINUS SIGN}(\d+)", offer.told)[0][:1]]
        self.assertAlmostEqual(levels.clean_range_db, told[0], delta=0.5)

    def test_nothing_is_offered_where_all_is_well_or_the_money_is_short(self):
        self.assertFalse(self.page("gain:page").context["screen"].gear_is_at_its_end)
        self.assertIsNone(self.offer(self.voice).context["offer"])
        answer = self.offer(self.owner_of(budget="0"))
        self.assertIsNone(answer.context["offer"])
        self.assertContains(answer, "No kit for the money there is does better")

    def test_without_script_the_link_leads_to_the_kit(self):
        self.assertRedirects(self.page("kit:better"), reverse("kit:page", args=[self.voice.pk]))
