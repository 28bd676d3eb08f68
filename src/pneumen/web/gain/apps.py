from django.apps import AppConfig


class GainConfig(AppConfig):
    name = "pneumen.web.gain"
    label = "gain"
