from django.apps import AppConfig


class PeopleConfig(AppConfig):
    name = "frimble.people"
    verbose_name = "People and house standards"
