from django.urls import path

from pneumen.web.comp import views

app_name = "comp"
urlpatterns = [
    path("comp/", views.page, name="page"),
    path("comp/lines/", views.lines, name="lines"),
    path("comp/lines/<int:pk>/", views.line, name="line"),
    path("comp/choices/", views.choices, name="choices"),
    path("comp/takes/<int:number>/", views.place, name="place"),
    path("comp/track/", views.track, name="track"),
    path("comp/track/status/", views.status, name="status"),
    path("comp/track/audio/", views.audio, name="audio"),
    path("comp/track/listened/", views.listened, name="listened"),
]
