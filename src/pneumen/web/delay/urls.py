from django.urls import path

from pneumen.web.delay import views

app_name = "delay"
urlpatterns = [
    *views.DelayView.urls("delay/"),
    path("delay/planned/", views.planned, name="planned"),
    path("delay/seen/", views.seen, name="seen"),
    path("delay/loop/", views.loop, name="loop"),
    path("delay/test-file/", views.test_file, name="test-file"),
]
