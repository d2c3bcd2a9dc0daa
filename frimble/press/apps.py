from django.apps import AppConfig


class PressConfig(AppConfig):
    name = "frimble.press"
