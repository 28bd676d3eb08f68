from django.urls import path

from pneumen.web.send import views

app_name = "send"
urlpatterns = [
    path("send/", views.page, name="page"),
    path("send/plan/", views.plan, name="plan"),
    path("send/package/", views.make, name="make"),
    path("send/<int:number>/status/", views.status, name="status"),
    path("send/<int:number>/package.zip", views.archive, name="zip"),
    path("send/<int:number>/together/", views.together, name="together"),
    path("send/<int:number>/remove/", views.remove, name="remove"),
    path("send/sheet/", views.sheet, name="sheet"),
]
