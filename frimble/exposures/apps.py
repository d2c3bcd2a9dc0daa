from django.apps import AppConfig


class ExposuresConfig(AppConfig):
    name = "frimble.exposures"
