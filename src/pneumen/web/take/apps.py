from django.apps import AppConfig


class TakeConfig(AppConfig):
    name = "pneumen.web.take"
    label = "take"
