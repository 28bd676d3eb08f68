from django.urls import path

from pneumen.web.place import views

app_name = "place"
urlpatterns = [
    path("place/", views.page, name="page"),
    path("place/tried/", views.tried, name="tried"),
    path("place/start/", views.start, name="start"),
    path("place/keep/", views.keep, name="keep"),
]
