"""What a request carries here beside Django's own."""

from typing import TYPE_CHECKING

from django.contrib.auth.models import User
from django.http import HttpRequest
from django_htmx.middleware import HtmxDetails

if TYPE_CHECKING:
    from pneumen.web.part.models import Part


class Request(HttpRequest):
    """A request of somebody who is logged in, with what the middleware finds of htmx, and the part it is about once
    that was looked up."""

    user: User
    htmx: HtmxDetails
    part: "Part"
