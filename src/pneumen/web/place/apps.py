from django.apps import AppConfig


class PlaceConfig(AppConfig):
    name = "pneumen.web.place"
    label = "place"
