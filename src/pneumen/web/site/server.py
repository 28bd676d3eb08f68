"""The web server: waitress, kept from being filled up by what it would refuse anyway.

It reads a whole body before the application sees the request. What is too large it reads without keeping it, since a
browser shows an answer only once everything is sent; bodies in chunks, which no browser sends, it does not take.
"""

import tempfile
from contextlib import suppress
from io import BytesIO
from typing import Any, Final

from django.conf import settings
from waitress import create_server
from waitress.channel import HTTPChannel
from waitress.parser import HTTPRequestParser, TransferEncodingNotImplemented
from waitress.receiver import FixedStreamReceiver
from waitress.task import WSGITask

from pneumen.wording.language import _

MOST_CONNECTIONS: Final = 500
IDLE_S: Final = 20
"""A connection that sends nothing for so long is closed; half-open ones would keep others out."""
LARGEST_PAGE_BYTES: Final = 1 << 24
"""An answer up to this waits in memory, so that a full disk can be told."""
LEAST_ABSURD: Final = 8
"""A body so many times larger than what is taken is not even read to its end."""
DISK_FULL: Final = "pneumen.disk_full"
"""In a request's environ: set where there was no room for its body."""


class _Nowhere:
    """A buffer that keeps nothing."""

    def append(self, data: bytes) -> None:
        pass

    def getfile(self) -> BytesIO:
        return BytesIO()

    def close(self) -> None:
        pass

    def __len__(self) -> int:
        return 0


class _Sparing:
    """A buffer that lets go of what it holds where the disk is full, so that somebody can still be told."""

    def __init__(self, buffer: Any) -> None:  # noqa: ANN401 - waitress has no types
        self._buffer = buffer
        self.full = False

    def append(self, data: bytes) -> None:
        try:
            self._buffer.append(data)
        except OSError:
            self.full = True
            with suppress(OSError):  # what it still holds back finds no room either
                self._buffer.close()
            self._buffer = _Nowhere()

    def getfile(self) -> Any:  # noqa: ANN401
        return self._buffer.getfile()

    def close(self) -> None:
        self._buffer.close()

    def __len__(self) -> int:
        return len(self._buffer)


class Parser(HTTPRequestParser):
    """Reads requests; the application answers one that is too large by its Content-Length, without its body."""

    body_rcv: Any

    def parse_header(self, header_plus: bytes) -> None:
        super().parse_header(header_plus)
        if self.chunked:
            raise TransferEncodingNotImplemented(_("Send a Content-Length; bodies in chunks are not taken."))
        if self.body_rcv is None:
            return
        if self.content_length > settings.MOST_UPLOAD_BYTES:
            self.body_rcv = FixedStreamReceiver(self.content_length, _Nowhere())
        else:
            self.body_rcv.buf = _Sparing(self.body_rcv.buf)


class Task(WSGITask):
    def get_environment(self) -> dict[str, Any]:
        environment: dict[str, Any] = super().get_environment()
        body = self.request.body_rcv
        environment[DISK_FULL] = body is not None and isinstance(body.buf, _Sparing) and body.buf.full
        return environment


class Channel(HTTPChannel):
    parser_class = Parser
    task_class = Task


def server_for(application: Any, address: str, port: int) -> Any:  # noqa: ANN401 - waitress has no types
    """Return a server that is ready to run."""
    # What is still arriving waits beside the recordings: the system's own place is memory on many machines.
    tempfile.tempdir = str(settings.INCOMING)
    server = create_server(
        application,
        host=address,
        port=port,
        threads=6,
        ident=None,
        asyncore_use_poll=True,
        connection_limit=MOST_CONNECTIONS,
        channel_timeout=IDLE_S,
        cleanup_interval=IDLE_S // 4,
        recv_bytes=1 << 16,
        outbuf_overflow=LARGEST_PAGE_BYTES,
        max_request_body_size=settings.MOST_UPLOAD_BYTES * LEAST_ABSURD,
    )
    server.channel_class = Channel
    return server
