"""Addresses under Gain, whose step listening belongs to."""

from django.urls import path

from pneumen.web.live import views

urlpatterns = [
    path("gain/live/", views.page, name="live"),
    path("gain/live/open/", views.open_, name="live-open"),
    path("gain/minute/", views.minutes, name="minutes"),
    path("gain/minute/<int:check_id>/", views.minute, name="minute"),
    path("gain/live/<str:key>/sound/", views.sound, name="live-sound"),
    path("gain/live/<str:key>/press/", views.press, name="live-press"),
    path("gain/live/<str:key>/close/", views.close, name="live-close"),
]
