from django.urls import path

from pneumen.web.song import views

app_name = "song"
urlpatterns = [
    path("", views.song_list, name="list"),
    path("settings/", views.settings, name="settings"),
    path("space/", views.space, name="space"),
    path("space/remove/", views.remove_nobodys, name="remove-nobodys"),
    path("new/", views.create, name="create"),
    path("<int:song_id>/rename/", views.rename, name="rename"),
    path("<int:song_id>/delete/", views.delete, name="delete"),
    path("<int:song_id>/undo/", views.undo, name="undo"),
    path("<int:song_id>/parts/", views.add_part, name="add-part"),
    path("<int:song_id>/remove/", views.remove, name="remove"),
    path("parts/<int:part_id>/remove/", views.remove_part, name="remove-part"),
    path("parts/<int:part_id>/takes/<int:number>/remove/", views.remove_take, name="remove-take"),
    path("parts/<int:part_id>/undo/", views.undo_part, name="undo-part"),
    path("parts/<int:part_id>/delete/", views.delete_part, name="delete-part"),
]
