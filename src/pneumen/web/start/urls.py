from django.urls import path

from pneumen.web.start import views

app_name = "start"
urlpatterns = [
    path("start/words/", views.words, name="words"),
    path("start/", views.page, name="page"),
    path("start/budget/", views.budget, name="budget"),
]
