"""Every field of every form of every step at the ends of what one can type: kept or told, never an error page."""

from html.parser import HTMLParser

from django.db import transaction
from django.urls import reverse

from pneumen.web.part.models import Part
from pneumen.web.steps import STEPS
from tests.web.base import HTMX, DemoCase

FURTHER = (
    *(f"room/sections/{section}/" for section in ("hang", "hears", "measured", "noises", "openings", "rooms", "shape")),
    *("place/two/", "place/trials/new/", "gain/knob/", "gain/minute/", "gain/setting/", "gain/live/"),
    *("kit/routes/", "kit/packages/", "kit/families/", "kit/identify/", "hookup/search/"),
    *("takes/log/", "takes/layers/", "takes/learnt/", "takes/stand/", "comp/balance/", "comp/layers/", "send/sheet/"),
)
"""Pages beside the steps' own, and what Room loads when it is opened."""
TYPED = ("1000000", "1e308", "-0.0001", "")
WRITTEN = ("text", "number", "range", "search")


class Forms(HTMLParser):
    """Collects the forms of a page that post: address, what they send as they stand, and the fields one types in."""

    def __init__(self):
        super().__init__()
        self.forms, self._select = [], None

    def handle_starttag(self, tag, attrs):
        told = dict(attrs)
        if tag == "form":
            self._posts = told.get("method") == "post"
            if self._posts:
                self.forms.append((told.get("action", ""), {}, []))
        name = told.get("name")
        if not self.forms or not self._posts:
            return
        _, sent, typed = self.forms[-1]
        if tag == "input" and name:
            kind = told.get("type", "text")
            if kind in WRITTEN:
                typed.append(name)
            if kind in (*WRITTEN, "hidden") or "checked" in told:
                sent[name] = told.get("value", "on" if kind == "checkbox" else "")
        elif tag == "select" and name:
            self._select = name
        elif tag == "option" and self._select and ("selected" in told or self._select not in sent):
            sent[self._select] = told.get("value", "")

    def handle_endtag(self, tag):
        if tag == "select":
            self._select = None
        elif tag == "form":
            self._posts = False

    @classmethod
    def of(cls, page):
        read = cls()
        read.feed(page.content.decode())
        return read.forms


class EveryField(DemoCase):
    def tried(self, address, sent):
        """Return the status of a post, and of the page it leads to, that leaves nothing behind."""
        self.client.raise_request_exception = False
        with transaction.atomic():
            answer = self.client.post(address, sent, follow=True)
            transaction.set_rollback(True)
        return answer.status_code

    def test_no_step_answers_with_an_error_whatever_is_typed(self):
        asked = sum(self.type_into(reverse(step.page, args=[self.harp.pk])) for step in STEPS)
        self.assertGreater(asked, 150)

    def test_nor_does_any_further_page(self):
        asked = sum(self.type_into(f"/parts/{self.harp.pk}/{page}") for page in FURTHER)
        asked += sum(self.type_into(page) for page in ("/gear/", "/gear/items/alder-2/", "/songs/", "/songs/settings/"))
        self.assertGreater(asked, 150)

    def type_into(self, page):
        """Type into every field of every form of a page, one at a time; return how often."""
        asked = 0
        answer = self.client.get(page, **(HTMX if "sections" in page else {}))
        self.assertEqual(answer.status_code, 200, page)
        for address, sent, typed in Forms.of(answer):
            for name in typed:
                for value in TYPED:
                    asked += 1
                    with self.subTest(f"{address or page} {name}={value}"):
                        self.assertIn(self.tried(address or page, sent | {name: value}), (200, 422))
        return asked

    def test_all_the_money_there_can_be_is_a_plan(self):
        self.act("kit:keep", budget="1000000")
        for step in STEPS:
            self.assertEqual(self.page(step.page).status_code, 200, step.slug)
        self.assertEqual(Part.objects.get(pk=self.voice.pk).song.budget, 1_000_000)
