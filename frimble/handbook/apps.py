from django.apps import AppConfig


class HandbookConfig(AppConfig):
    name = "frimble.handbook"
