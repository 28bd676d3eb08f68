"""Export and import of a song as one file."""

import tempfile
from pathlib import Path

from django.conf import settings
from django.contrib import messages
from django.http import FileResponse, HttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import redirect
from django.utils.text import slugify
from django.views.decorators.http import require_POST, require_safe

from pneumen.core.errors import PneumenError
from pneumen.web.archive.read import read_archive
from pneumen.web.archive.write import write_archive
from pneumen.web.audio.services import received
from pneumen.web.site.requests import Request
from pneumen.web.song.views import song_of
from pneumen.wording.language import _

PREFIX = "pneumen-"


@require_safe
def export(request: Request, song_id: int) -> HttpResponseBase:
    """Write the song's archive beside the store, and send it; the file is gone once it is sent."""
    song = song_of(request, song_id)
    file = tempfile.NamedTemporaryFile(dir=settings.INCOMING, prefix=PREFIX, suffix=".zip")  # noqa: SIM115 - sent below
    try:
        write_archive(song, Path(file.name))
    except PneumenError as error:
        file.close()
        messages.error(request, f"{error}.".capitalize())
        return redirect("song:list")
    except BaseException:
        file.close()
        raise
    file.seek(0)
    return FileResponse(file, as_attachment=True, filename=f"{slugify(song.name) or 'song'}.pneumen.zip")


@require_POST
def read(request: Request) -> HttpResponse:
    """Take in a song's archive."""
    sent = request.FILES.get("archive")
    if sent is None:
        messages.error(request, _("Choose an archive first: a file that Export wrote."))
        return redirect("song:list")
    try:
        with received(sent) as incoming:
            song = read_archive(request.user, incoming.path)
    except PneumenError as error:
        told = str(error)
        messages.error(request, _("{name} was not taken in: {told}.").format(name=sent.name, told=told))
        return redirect("song:list")
    messages.success(request, _("“{name}” is here, with everything that was in its archive.").format(name=song.name))
    return redirect("song:list")
