from django.apps import AppConfig


class PartConfig(AppConfig):
    name = "pneumen.web.part"
    label = "part"
