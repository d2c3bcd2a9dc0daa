from django.apps import AppConfig


class ServerConfig(AppConfig):
    name = "frimble.server"
