from django.urls import path

from pneumen.web.gear import views

app_name = "gear"
urlpatterns = [
    path("", views.page, name="list"),
    path("export.<slug:form>", views.export, name="export"),
    path("import/", views.read, name="import"),
    path("import/<int:import_id>/", views.review, name="review"),
    path("forget/", views.forget, name="forget"),
    path("new/", views.new, name="new"),
    path("items/<str:item_id>/sheet/", views.sheet, name="sheet"),
    path("items/<str:item_id>/", views.item, name="item"),
]
