from django.urls import path

from pneumen.web.take import views

app_name = "take"
urlpatterns = [
    path("takes/", views.page, name="page"),
    path("takes/upload/", views.upload, name="upload"),
    path("takes/simulated/", views.simulated, name="simulated"),
    path("takes/lessons/<int:number>/", views.lesson, name="lesson"),
    path("takes/<int:number>/status/", views.status, name="status"),
    path("takes/<int:number>/audio/", views.audio, name="audio"),
    path("takes/<int:number>/told/", views.told, name="told"),
    path("takes/<int:number>/again/", views.again, name="again"),
    path("takes/<int:number>/undo/", views.undo, name="undo"),
    path("takes/<int:number>/delete/", views.delete, name="delete"),
]
