from django.apps import AppConfig


class SongConfig(AppConfig):
    name = "pneumen.web.song"
    label = "song"
