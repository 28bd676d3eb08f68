from django.apps import AppConfig


class HookupConfig(AppConfig):
    name = "pneumen.web.hookup"
    label = "hookup"
