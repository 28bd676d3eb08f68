from django.urls import path

from pneumen.web.comp import more_views, views

app_name = "comp"
urlpatterns = [
    path("comp/", views.page, name="page"),
    path("comp/lines/", views.lines, name="lines"),
    path("comp/lines/<int:line_id>/", views.line, name="line"),
    path("comp/choices/", views.choices, name="choices"),
    path("comp/takes/<int:number>/", views.place, name="place"),
    path("comp/layers/", more_views.layers, name="layers"),
    path("comp/layers/<int:layer_id>/", more_views.layer, name="layer"),
    path("comp/layers/<int:layer_id>/audio/", more_views.layer_audio, name="layer-audio"),
    path("comp/balance/", more_views.balance, name="balance"),
    path("comp/balance/<slug:end>/", more_views.balance_audio, name="balance-audio"),
    path("comp/track/", views.track, name="track"),
    path("comp/track/status/", views.status, name="status"),
    path("comp/track/audio/", views.audio, name="audio"),
    path("comp/track/listened/", views.listened, name="listened"),
]
