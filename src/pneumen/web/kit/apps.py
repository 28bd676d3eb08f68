from django.apps import AppConfig


class KitConfig(AppConfig):
    name = "pneumen.web.kit"
    label = "kit"
