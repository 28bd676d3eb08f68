from django.urls import path

from pneumen.web.room import monitor_views, views

app_name = "room"
urlpatterns = [
    path("room/", views.page, name="page"),
    path("room/tried/", views.tried, name="tried"),
    path("room/advice/", views.advice, name="advice"),
    path("room/keep/", views.keep, name="keep"),
    path("room/furniture/", views.furniture, name="furniture"),
    path("room/openings/", views.openings, name="openings"),
    path("room/neighbours/", views.neighbours, name="neighbours"),
    path("room/monitors/", monitor_views.monitors, name="monitors"),
    path("room/monitors/tried/", monitor_views.tried, name="monitors-tried"),
    path("room/monitors/keep/", monitor_views.keep, name="monitors-keep"),
    path("room/shape/", views.shape, name="shape"),
    path("room/spot/", views.spot, name="spot"),
    path("room/hang/", views.hang, name="hang"),
    path("room/hang/best/", views.hang_best, name="hang-best"),
    path("room/coverings/", views.coverings, name="coverings"),
    path("room/noises/", views.noises, name="noises"),
    path("room/clap/", views.clap, name="clap"),
    path("room/compare/", views.compare, name="compare"),
    path("room/which/", views.which, name="which"),
]
