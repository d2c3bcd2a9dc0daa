from django.apps import AppConfig


class CoatingsConfig(AppConfig):
    name = "frimble.coatings"
