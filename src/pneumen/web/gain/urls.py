from django.urls import path

from pneumen.web.gain import views

app_name = "gain"
urlpatterns = [
    path("gain/", views.page, name="page"),
    path("gain/tried/", views.tried, name="tried"),
    path("gain/keep/", views.keep, name="keep"),
    path("gain/apply/", views.apply, name="apply"),
    path("gain/planned/", views.planned, name="planned"),
    path("gain/pin/", views.pin, name="pin"),
]
