from django.urls import path

from pneumen.web.room import forms, monitor_views, views

app_name = "room"
urlpatterns = [
    *views.RoomView.urls("room/"),
    *monitor_views.MonitorsView.urls("room/monitors/"),
    path("room/sections/<slug:slug>/", views.section, name="section"),
    path("room/advice/", views.advice, name="advice"),
    path("room/shape/", views.changing(forms.ShapeForm), name="shape"),
    path("room/furniture/", views.changing(forms.FurnitureForm), name="furniture"),
    path("room/openings/", views.changing(forms.OpeningForm), name="openings"),
    path("room/coverings/", views.changing(forms.CoveringForm), name="coverings"),
    path("room/hang/", views.changing(forms.HangForm), name="hang"),
    path("room/hang/best/", views.hang_best, name="hang-best"),
    path("room/noises/", views.changing(forms.NoiseForm), name="noises"),
    path("room/neighbours/", views.changing(forms.NeighbourForm), name="neighbours"),
    path("room/spot/", views.spot, name="spot"),
    path("room/clap/", views.clap, name="clap"),
    path("room/compare/", views.compare, name="compare"),
    path("room/which/", views.which, name="which"),
]
