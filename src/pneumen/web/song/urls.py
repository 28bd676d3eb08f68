from django.urls import path

from pneumen.web.song import views

app_name = "song"
urlpatterns = [
    path("", views.song_list, name="list"),
    path("settings/", views.settings, name="settings"),
    path("new/", views.create, name="create"),
    path("<int:song_id>/rename/", views.rename, name="rename"),
    path("<int:song_id>/delete/", views.delete, name="delete"),
    path("<int:song_id>/undo/", views.undo, name="undo"),
    path("<int:song_id>/parts/", views.add_part, name="add-part"),
    path("parts/<int:part_id>/undo/", views.undo_part, name="undo-part"),
    path("parts/<int:part_id>/delete/", views.delete_part, name="delete-part"),
]
