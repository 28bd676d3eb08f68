from django.urls import path

from pneumen.web.take import intake_views, layer_views, log_views, strip_views, views

app_name = "take"
urlpatterns = [
    path("takes/", views.page, name="page"),
    path("takes/upload/", intake_views.upload, name="upload"),
    path("takes/stand/", intake_views.stand, name="stand"),
    path("takes/watch/", intake_views.watch, name="watch"),
    path("takes/simulated/", intake_views.simulated, name="simulated"),
    path("takes/lessons/<int:number>/", views.lesson, name="lesson"),
    path("takes/<int:number>/status/", intake_views.status, name="status"),
    path("takes/<int:number>/strip/", strip_views.strip, name="strip"),
    path("takes/<int:number>/spectrum/", strip_views.spectrum, name="spectrum"),
    path("takes/<int:number>/spectrogram.png", strip_views.spectrogram, name="spectrogram"),
    path("takes/<int:number>/audio/", views.audio, name="audio"),
    path("takes/<int:number>/told/", views.told, name="told"),
    path("takes/<int:number>/again/", views.again, name="again"),
    path("takes/<int:number>/passes/", intake_views.passes, name="passes"),
    path("takes/<int:number>/undo/", views.undo, name="undo"),
    path("takes/<int:number>/delete/", views.delete, name="delete"),
    path("takes/log/", log_views.page, name="log"),
    path("takes/layers/", layer_views.page, name="layers"),
    path("takes/layers/<int:number>/", layer_views.layer, name="layer"),
    path("takes/learnt/", log_views.learnt, name="learnt"),
    path("takes/log.csv", log_views.as_csv, name="log-csv"),
    path("takes/log.json", log_views.as_json, name="log-json"),
    path("takes/log/schools/", log_views.schools, name="schools"),
    path("takes/<int:number>/log/", log_views.said, name="said"),
    path("takes/sessions/<int:number>/", log_views.sitting, name="sitting"),
    path("takes/sessions/<int:number>/sheet/", log_views.sheet, name="sheet"),
]
