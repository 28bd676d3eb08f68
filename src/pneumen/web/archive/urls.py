from django.urls import path

from pneumen.web.archive import views

app_name = "archive"
urlpatterns = [
    path("import/", views.read, name="read"),
    path("<int:song_id>/export/", views.export, name="export"),
]
