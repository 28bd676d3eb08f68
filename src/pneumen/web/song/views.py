"""Songs and parts: the list, and the small acts on them."""

from collections.abc import Callable
from functools import partial, wraps

from django.contrib import messages
from django.db.models import QuerySet
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe

from pneumen.core.errors import PneumenError
from pneumen.core.part import SOURCES
from pneumen.web.kept_rows import as_read
from pneumen.web.owned import PutAway
from pneumen.web.part.models import Part
from pneumen.web.site.requests import Request
from pneumen.web.site.space import even_when_full
from pneumen.web.song import away, services
from pneumen.web.song.forms import PreferencesForm
from pneumen.web.song.models import Preferences, Song
from pneumen.web.take.models import Take
from pneumen.wording.figures import money
from pneumen.wording.language import _
from pneumen.wording.lengths import near


def part_of(request: Request, part_id: int) -> Part:
    """Return a part of this person's, or answer 404 as if it were not there."""

    def load() -> Part:
        return get_object_or_404(Part.objects.mine(request.user).whole(), pk=part_id, song__put_away_day=None)

    request.part = as_read(("part", request.user.pk, part_id), load)
    return request.part  # the frame shows the same


def told_with_undo(request: Request, told: str, undo: str) -> None:
    """Say what was put away, with the address that brings it back."""
    messages.info(request, told, extra_tags=f"undo:{undo}")


def with_part(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
    """Hand the view its part."""

    @wraps(view)
    def wrapped(request: Request, part_id: int, **rest: int) -> HttpResponse:
        return view(request, part_of(request, part_id), **rest)

    return wrapped


def song_of(request: Request, song_id: int) -> Song:
    return get_object_or_404(Song.objects.mine(request.user), pk=song_id)


def home(request: Request) -> HttpResponse:
    """Go to the song in hand, or to the list where there is none."""
    part = Part.objects.mine(request.user).filter(song__put_away_day=None).order_by("song__created_at").first()
    if part is None:
        return redirect("song:list")
    return redirect("gain:page" if part.answered else "start:page", part_id=part.pk)


def song_list(request: Request) -> HttpResponse:
    songs = Song.objects.mine(request.user).prefetch_related("parts")
    context = {"songs": songs, "sources": SOURCES, "put_away": away.put_away_of(request.user)}
    return render(request, "song/list.html", context)


@require_POST
def create(request: Request) -> HttpResponse:
    try:
        song = services.create_song(request.user, request.POST.get("name", ""))
    except PneumenError as error:
        messages.error(request, _("The {error}.").format(error=error))
        return redirect("song:list")
    return redirect("start:page", part_id=song.parts.get().pk)


@require_POST
def rename(request: Request, song_id: int) -> HttpResponse:
    try:
        services.rename_song(song_of(request, song_id), request.POST.get("name", ""))
    except PneumenError as error:
        messages.error(request, _("The {error}. The old name stays.").format(error=error))
    return redirect("song:list")


@require_POST
def delete(request: Request, song_id: int) -> HttpResponse:
    song = song_of(request, song_id)
    even_when_full(partial(services.put_song_away, song))
    told_with_undo(request, _("“{name}” was put away.").format(name=song.name), reverse("song:undo", args=[song.pk]))
    return redirect("song:list")


@require_POST
def undo(request: Request, song_id: int) -> HttpResponse:
    away.bring_back(get_object_or_404(Song.everything.mine(request.user), pk=song_id))
    return redirect("song:list")


@require_POST
def undo_part(request: Request, part_id: int) -> HttpResponse:
    away.bring_back(get_object_or_404(Part.everything.mine(request.user), pk=part_id))
    return redirect("song:list")


@require_POST
def add_part(request: Request, song_id: int) -> HttpResponse:
    source = request.POST.get("source", "")
    song = song_of(request, song_id)
    if source not in SOURCES:
        messages.error(request, _("Choose what the part is from the list."))
        return redirect("song:list")
    try:
        part = services.add_part(request.user, song, source)
    except PneumenError as error:
        messages.error(request, _("The {error}.").format(error=error))
        return redirect("song:list")
    return redirect("start:page", part_id=part.pk)


@require_POST
def delete_part(request: Request, part_id: int) -> HttpResponse:
    part = part_of(request, part_id)
    try:
        even_when_full(partial(services.put_part_away, part))
        told_with_undo(
            request, _("“{name}” was put away.").format(name=part.name), reverse("song:undo-part", args=[part.pk])
        )
    except PneumenError as error:
        messages.error(request, _("This {error}.").format(error=error))
    return redirect("song:list")


@require_safe
def space(request: Request) -> HttpResponse:
    """What takes room on the disk, and what can go."""
    return render(request, "song/space.html", {"space": away.space_of(request.user)})


def _put_away_rows(request: Request, model: type[PutAway]) -> QuerySet:
    return model.everything.mine(request.user).exclude(put_away_day=None)


def _removed(request: Request, row: PutAway) -> HttpResponse:
    even_when_full(partial(away.remove_for_good, row))
    messages.success(request, _("Removed for good."))
    return redirect("song:space")


@require_POST
def remove(request: Request, song_id: int) -> HttpResponse:
    """Remove a song for good that was put away before."""
    return _removed(request, get_object_or_404(_put_away_rows(request, Song), pk=song_id))


@require_POST
def remove_part(request: Request, part_id: int) -> HttpResponse:
    return _removed(request, get_object_or_404(_put_away_rows(request, Part), pk=part_id))


@require_POST
def remove_take(request: Request, part_id: int, number: int) -> HttpResponse:
    return _removed(request, get_object_or_404(_put_away_rows(request, Take), part_id=part_id, number=number))


@require_POST
def remove_nobodys(request: Request) -> HttpResponse:
    away.remove_nobodys()
    messages.success(request, _("Removed for good."))
    return redirect("song:space")


def settings(request: Request) -> HttpResponse:
    """How this person reads money and lengths."""
    row = Preferences.objects.mine(request.user).first() or Preferences(owner=request.user)
    form = PreferencesForm(request.POST or None, instance=row)
    if request.method == "POST" and form.is_valid():
        form.save()
        messages.success(request, _("Saved."))
        return redirect("song:settings")
    context = {"form": form, "example": money(1234.5), "length": near(0.18)}
    return render(request, "song/settings.html", context, status=422 if form.errors else 200)
