"""The screen of a step, written once: its page, the fragment for values tried out, and keeping what was changed."""

from collections.abc import Mapping
from typing import Any, ClassVar, Generic, Self, TypeVar

from django.http import HttpRequest, HttpResponse, QueryDict
from django.http.response import HttpResponseBase
from django.shortcuts import redirect, render
from django.urls import URLPattern, path
from django.utils.functional import SimpleLazyObject
from django.views import View

from pneumen.core.errors import PneumenError
from pneumen.web.drawing import as_seen
from pneumen.web.fields import StepForm
from pneumen.web.frame import thread
from pneumen.web.kept_rows import as_worked_out
from pneumen.web.part.models import Part
from pneumen.web.site.requests import Request
from pneumen.web.song.views import part_of
from pneumen.wording.figures import habits

Changes = Mapping[str, Any]
Shown = TypeVar("Shown")


class Screen(View, Generic[Shown]):
    """A screen of a part: GET its page or the fragment of values tried out, POST what is to be kept.

    A step subclasses it with its form, what its templates show (`present`) and how changes are stored (`keep`); the
    page and the fragment are the templates SLUG/page.html and SLUG/live.html. Without script a refused form comes
    back whole, with what was typed.
    """

    request: Request
    slug: ClassVar[str]
    name: ClassVar[str] = ""
    """The screen's own, where a step has several: its templates are SLUG/NAME.html and SLUG/NAME_live.html."""
    form_class: ClassVar[type[StepForm]]
    act: str = "page"

    @classmethod
    def urls(cls, at: str) -> list[URLPattern]:
        """Return the addresses of page, fragment and keeping, below a path of their own."""
        prefix = f"{cls.name}-" if cls.name else ""
        return [
            path(at, cls.as_view(act="page"), name=cls.name or "page"),
            path(f"{at}tried/", cls.as_view(act="tried"), name=f"{prefix}tried"),
            path(f"{at}keep/", cls.as_view(act="kept"), name=f"{prefix}keep"),
        ]

    @classmethod
    def of(cls, request: Request) -> Self:
        """Return the screen for a request to another address, to answer with its page."""
        screen = cls()
        screen.setup(request)
        return screen

    def dispatch(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponseBase:
        self.http_method_names = ["post"] if self.act == "kept" else ["get", "head"]
        return super().dispatch(request, *args, **kwargs)

    def get(self, request: Request, part_id: int) -> HttpResponse:
        part = part_of(request, part_id)
        if not self.is_for(part):
            return self.instead(part)
        if self.act == "tried":
            with as_seen(request.GET.get("seen", "")):  # a drag is answered with what is looked at
                return self._tried(part)
        return self.page(part)

    def post(self, request: Request, part_id: int) -> HttpResponse:
        part = part_of(request, part_id)
        if not self.is_for(part):
            return self.instead(part)
        asked = self.form(part, request.POST)
        if asked.is_valid():
            try:
                self.keep(part, asked.changes)
            except PneumenError as error:
                asked.refuse(error)
        part = self.stored(part, asked.changes if asked.is_valid() else {})
        if request.htmx:
            return self._live(part, self.present(part, {}), asked, **self.kept(part, asked), **thread(part, self.slug))
        if asked.errors:
            return self.page(part, form=asked, problem=asked.problem)
        return redirect(f"{self.slug}:{self.name or 'page'}", part_id=part.pk)

    # What a step says of itself.

    def form(self, part: Part, data: QueryDict | None = None, screen: Shown | None = None) -> StepForm:
        """Return the form, to be shown with what holds, or filled in."""
        return self.form_class(data, shown=None if screen is None else self.shown(part, screen))

    def shown(self, part: Part, screen: Shown) -> Changes:
        """Return what the form's fields hold."""
        raise NotImplementedError

    def present(self, part: Part, changes: Changes) -> Shown:
        """Return what the templates show, with changes tried out.

        Raises:
            PneumenError: for a change that cannot be.
        """
        raise NotImplementedError

    def keep(self, part: Part, changes: Changes) -> None:
        """Store changes.

        Raises:
            PneumenError: for a change that cannot be; nothing is stored then.
        """
        raise NotImplementedError

    def stored(self, part: Part, changes: Changes) -> Part:
        """Return the part as it is stored after changes were kept, or refused."""
        return part_of(self.request, part.pk)

    def more(self, part: Part, screen: Shown) -> dict[str, Any]:
        """Return what only the whole page shows."""
        return {}

    def kept(self, part: Part, asked: StepForm) -> dict[str, Any]:
        """Return what only the answer to keeping shows."""
        return {}

    def is_for(self, part: Part) -> bool:
        """Tell whether there is anything to show for a part."""
        return True

    def instead(self, part: Part) -> HttpResponse:
        """Answer for a part this screen has nothing to show for."""
        raise NotImplementedError

    def template(self) -> str:
        return f"{self.slug}/{self.name or 'page'}.html"

    # How it answers.

    def page(self, part: Part, *, form: StepForm | None = None, problem: str = "", **more: object) -> HttpResponse:
        """Answer with the whole page; a refused form comes back with what was typed, and what is wrong."""
        screen = self._as_stored(part)
        context = {"part": part, "screen": screen, "form": form or self.form(part, screen=screen), "problem": problem}
        context |= self.more(part, screen) | more
        return render(self.request, self.template(), context, status=422 if problem else 200)

    def _as_stored(self, part: Part) -> Shown:
        """Return what the page shows of what is stored: worked out once while nothing changes."""
        key = (type(self), part.pk, self.request.GET.urlencode(), habits.get())
        return as_worked_out(key, lambda: self.present(part, {}))

    def _tried(self, part: Part) -> HttpResponse:
        asked = self.form(part, self.request.GET)
        if asked.is_valid():
            try:
                return self._live(part, self.present(part, asked.changes), asked)
            except PneumenError as error:
                asked.refuse(error)
        stored = part_of(self.request, part.pk)  # what was refused may have been set on the rows at hand
        return self._live(stored, self.present(stored, {}), asked)

    def _live(self, part: Part, screen: Shown, asked: StepForm, **more: Any) -> HttpResponse:
        context = {"part": part, "screen": screen, "live": True, "problem": asked.problem}
        form = SimpleLazyObject(lambda: self.form(part, screen=screen))  # few answers show one
        template = f"{self.slug}/{self.name}_live.html" if self.name else f"{self.slug}/live.html"
        return render(self.request, template, context | {"form": form} | more)
