from django.urls import path

from pneumen.web.part import views

app_name = "part"
urlpatterns = [
    path("part/", views.page, name="page"),
    path("part/tried/", views.tried, name="tried"),
    path("part/keep/", views.keep, name="keep"),
    path("part/add/", views.add, name="add"),
    path("part/move/", views.move, name="move"),
    path("part/backing/", views.backing, name="backing"),
    path("part/backing/keep/", views.keep_backing, name="keep-backing"),
    path("part/remove/", views.remove, name="remove"),
]
