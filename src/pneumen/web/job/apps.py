from django.apps import AppConfig


class JobConfig(AppConfig):
    name = "pneumen.web.job"
    label = "job"
