from django.urls import path

from pneumen.web.place import trial_views, two_views, views

app_name = "place"
urlpatterns = [
    *views.PlaceView.urls("place/"),
    path("place/start/", views.start, name="start"),
    path("place/two/", two_views.two, name="two"),
    path("place/pair/", two_views.pair, name="pair"),
    path("place/trials/new/", trial_views.new, name="new-trial"),
    path("place/trials/make/", trial_views.make, name="make-trial"),
    path("place/trials/<int:number>/", trial_views.show, name="trial"),
    path("place/trials/<int:number>/status/", trial_views.status, name="trial-status"),
    path("place/trials/<int:number>/<int:heard_at>/", trial_views.listen, name="trial-listen"),
    path("place/trials/<int:number>/choose/", trial_views.choose, name="choose-trial"),
    path("place/trials/<int:number>/delete/", trial_views.delete, name="delete-trial"),
]
