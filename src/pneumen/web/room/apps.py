from django.apps import AppConfig


class RoomConfig(AppConfig):
    name = "pneumen.web.room"
    label = "room"
