from django.urls import path

from pneumen.web.kit import choosing, views

app_name = "kit"
urlpatterns = [
    *views.KitView.urls("kit/"),
    path("kit/routes/", views.routes, name="routes"),
    path("kit/families/", choosing.families, name="families"),
    path("kit/identify/", choosing.identified, name="identify"),
    path("kit/packages/", choosing.packages, name="packages"),
    path("kit/better/", views.better, name="better"),
    path("kit/raise/", views.raise_budget, name="raise"),
    path("kit/take/", views.take, name="take"),
    path("kit/mark/", views.mark, name="mark"),
    path("kit/list.csv", views.packing_list, name="list"),
]
