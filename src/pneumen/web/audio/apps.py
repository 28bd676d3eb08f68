from django.apps import AppConfig


class AudioConfig(AppConfig):
    name = "pneumen.web.audio"
    label = "audio"
