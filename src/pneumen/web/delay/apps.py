from django.apps import AppConfig


class DelayConfig(AppConfig):
    name = "pneumen.web.delay"
    label = "delay"
    default_auto_field = "django.db.models.BigAutoField"
