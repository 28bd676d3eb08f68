"""Who is there, and how much may be sent."""

import errno
import os
from collections.abc import Callable
from ipaddress import ip_address

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.exceptions import DisallowedHost
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from pneumen.web.kept_rows import as_read
from pneumen.web.site.server import DISK_FULL
from pneumen.web.song.models import Preferences
from pneumen.wording.figures import PLAIN, habits
from pneumen.wording.language import _

GetResponse = Callable[[HttpRequest], HttpResponse]


class ThisSiteOnly:
    """Answers this machine's own names alone, and no other site's pages; static files too, so it comes first."""

    def __init__(self, get_response: GetResponse) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        try:
            request.get_host()
        except DisallowedHost:
            return HttpResponse(
                _("This address is not Pneumen's."), status=400, content_type="text/plain; charset=utf-8"
            )
        response = self.get_response(request)
        response["Cross-Origin-Resource-Policy"] = "same-origin"
        return response


class LocalOwner:
    """Signs the local owner in by itself, on the loopback address only: one's own machine needs no account."""

    def __init__(self, get_response: GetResponse) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if not request.user.is_authenticated and _is_loopback(request.META.get("REMOTE_ADDR", "")):
            # No session is opened: the address itself is the proof, on every request anew.
            owners = get_user_model().objects
            known = as_read(("local owner",), lambda: owners.filter(username=settings.LOCAL_OWNER).first())
            request.user = known or owners.get_or_create(username=settings.LOCAL_OWNER)[0]
        if not request.user.is_authenticated:
            return render(request, "403.html", status=403)
        return self.get_response(request)


class ReaderHabits:
    """Writes money and lengths the way the person who asks is used to."""

    def __init__(self, get_response: GetResponse) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        row = as_read(("habits", request.user.pk), lambda: Preferences.objects.mine(request.user).first())
        token = habits.set(row.to_habits() if row else PLAIN)
        try:
            return self.get_response(request)
        finally:
            habits.reset(token)


class UploadLimit:
    """Refuses a body that is too large before a byte of it is read."""

    def __init__(self, get_response: GetResponse) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        length = request.META.get("CONTENT_LENGTH") or "0"
        if not length.isdecimal() or int(length) <= settings.MOST_UPLOAD_BYTES:
            return self.get_response(request)
        if request.headers.get("HX-Request"):
            headers = {"HX-Retarget": "#upload-problem", "HX-Reswap": "innerHTML"}
            return HttpResponse(too_large(), status=413, headers=headers)
        return render(request, "413.html", {"reason": too_large()}, status=413)


class DiskFull:
    """Tells of a body that arrived while the disk was full, as of any other write that finds no room."""

    def __init__(self, get_response: GetResponse) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if request.META.get(DISK_FULL):
            raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))
        return self.get_response(request)


def too_large() -> str:
    """Say how much may be sent, and what to do with more."""
    most_gb = settings.MOST_UPLOAD_BYTES / 1e9
    return _(
        "That file is too large: at most {most_gb:g} GB are taken in, nearly two hours of 24-bit mono at 48 kHz. "
        "Cut the recording, or measure it with ./pneumen measure, which takes any length."
    ).format(most_gb=most_gb)


def _is_loopback(address: str) -> bool:
    try:
        return ip_address(address).is_loopback
    except ValueError:
        return False
