from django.urls import path

from pneumen.web.part import views

app_name = "part"
urlpatterns = [
    *views.PartView.urls("part/"),
    path("part/add/", views.add, name="add"),
    path("part/move/", views.move, name="move"),
    path("part/backing/", views.backing, name="backing"),
    path("part/backing/keep/", views.keep_backing, name="keep-backing"),
    path("part/remove/", views.remove, name="remove"),
]
