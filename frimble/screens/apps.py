from django.apps import AppConfig


class ScreensConfig(AppConfig):
    name = "frimble.screens"
