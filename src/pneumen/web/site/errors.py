"""Pages for what went wrong."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.template.loader import render_to_string


def not_found(request: HttpRequest, exception: Exception) -> HttpResponse:
    return render(request, "404.html", status=404)


def server_error(request: HttpRequest) -> HttpResponse:
    # Without the request: whatever broke the page may break the frame around it too.
    return HttpResponse(render_to_string("500.html"), status=500)


def bad_request(request: HttpRequest, exception: Exception) -> HttpResponse:
    return render(request, "400.html", status=400)


def csrf_failure(request: HttpRequest, reason: str = "") -> HttpResponse:
    return render(request, "403.html", {"stale": True}, status=403)
