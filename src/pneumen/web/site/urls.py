"""Every address of the product; each step brings its own."""

from django.urls import include, path

from pneumen.web.song import views as song

urlpatterns = [
    path("", song.home, name="home"),
    path("songs/", include("pneumen.web.song.urls")),
    path("gear/", include("pneumen.web.gear.urls")),
    path("parts/<int:part_id>/", include("pneumen.web.start.urls")),
    path("parts/<int:part_id>/", include("pneumen.web.part.urls")),
    path("parts/<int:part_id>/", include("pneumen.web.kit.urls")),
    path("parts/<int:part_id>/", include("pneumen.web.room.urls")),
    path("parts/<int:part_id>/", include("pneumen.web.place.urls")),
    path("parts/<int:part_id>/", include("pneumen.web.gain.urls")),
    path("parts/<int:part_id>/", include("pneumen.web.take.urls")),
]
handler400 = "pneumen.web.site.errors.bad_request"
handler404 = "pneumen.web.site.errors.not_found"
handler500 = "pneumen.web.site.errors.server_error"
