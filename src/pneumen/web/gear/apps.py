from django.apps import AppConfig


class GearConfig(AppConfig):
    name = "pneumen.web.gear"
    label = "gear"
