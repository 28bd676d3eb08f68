"""Pages for what went wrong."""

import sys
from typing import Final

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.template.loader import render_to_string
from django.urls import reverse

from pneumen.web.site.space import is_full
from pneumen.web.song.away import space_of
from pneumen.wording.language import _

NO_SPACE: Final = 507
FULL: Final = _("The disk is full: delete something, then start Pneumen again.")


def not_found(request: HttpRequest, exception: Exception) -> HttpResponse:
    return render(request, "404.html", status=404)


def server_error(request: HttpRequest) -> HttpResponse:
    if is_full(sys.exc_info()[1]):
        return _disk_is_full(request)
    # Without the request: whatever broke the page may break the frame around it too.
    return HttpResponse(render_to_string("500.html"), status=500)


def _disk_is_full(request: HttpRequest) -> HttpResponse:
    """Say so, with what could be deleted; nothing was stored."""
    if request.headers.get("HX-Request"):
        return HttpResponse(status=NO_SPACE, headers={"HX-Redirect": reverse("song:space")})
    if not getattr(request, "user", None) or not request.user.is_authenticated:
        return HttpResponse(FULL, status=NO_SPACE, content_type="text/plain; charset=utf-8")
    request.__dict__.pop("part", None)  # the frame without its thread: this is about the disk
    context = {"space": space_of(request.user), "nothing_stored": True}
    return render(request, "song/space.html", context, status=NO_SPACE)


def bad_request(request: HttpRequest, exception: Exception) -> HttpResponse:
    return render(request, "400.html", status=400)


def csrf_failure(request: HttpRequest, reason: str = "") -> HttpResponse:
    return render(request, "403.html", {"stale": True}, status=403)
