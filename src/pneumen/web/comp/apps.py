from django.apps import AppConfig


class CompConfig(AppConfig):
    name = "pneumen.web.comp"
    label = "comp"
