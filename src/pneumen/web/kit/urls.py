from django.urls import path

from pneumen.web.kit import views

app_name = "kit"
urlpatterns = [
    path("kit/", views.page, name="page"),
    path("kit/tried/", views.tried, name="tried"),
    path("kit/routes/", views.routes, name="routes"),
    path("kit/keep/", views.keep, name="keep"),
    path("kit/raise/", views.raise_budget, name="raise"),
    path("kit/take/", views.take, name="take"),
    path("kit/mark/", views.mark, name="mark"),
    path("kit/list.csv", views.packing_list, name="list"),
]
