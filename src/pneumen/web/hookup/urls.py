from django.urls import path

from pneumen.web.hookup import views

app_name = "hookup"
urlpatterns = [
    *views.HookupView.urls("hookup/"),
    path("hookup/cue/", views.cue, name="cue"),
    path("hookup/forget/", views.forget, name="forget"),
    path("hookup/search/", views.search, name="search"),
    path("hookup/heard/", views.heard, name="heard"),
    path("hookup/sheet/", views.sheet, name="sheet"),
    path("hookup/tick/", views.tick, name="tick"),
]
