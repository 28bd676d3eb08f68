from django.apps import AppConfig


class SendConfig(AppConfig):
    name = "pneumen.web.send"
    label = "send"
