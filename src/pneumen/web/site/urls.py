"""Every address of the product; each step brings its own."""

from django.urls import include, path

from pneumen.web.song import views as song
from pneumen.web.steps import STEPS

urlpatterns = [
    path("", song.home, name="home"),
    path("songs/", include("pneumen.web.song.urls")),
    path("songs/", include("pneumen.web.archive.urls")),
    path("gear/", include("pneumen.web.gear.urls")),
    *(path("parts/<int:part_id>/", include(step.urls)) for step in STEPS),
]
handler400 = "pneumen.web.site.errors.bad_request"
handler404 = "pneumen.web.site.errors.not_found"
handler500 = "pneumen.web.site.errors.server_error"
