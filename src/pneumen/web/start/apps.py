from django.apps import AppConfig


class StartConfig(AppConfig):
    name = "pneumen.web.start"
    label = "start"
