from django.urls import path

from pneumen.web.gain import views
from pneumen.web.live.urls import urlpatterns as live

app_name = "gain"
urlpatterns = [
    *views.GainView.urls("gain/"),
    path("gain/apply/", views.apply, name="apply"),
    path("gain/planned/", views.planned, name="planned"),
    path("gain/knob/", views.knob, name="knob"),
    path("gain/knob/sound/", views.knob_sound, name="knob-sound"),
    path("gain/setting/", views.setting, name="setting"),
    path("gain/pin/", views.pin, name="pin"),
    *live,
]
