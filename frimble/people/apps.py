from django.apps import AppConfig


class PeopleConfig(AppConfig):
    name = "frimble.people"
    verbose_name = "People and house settings"

    def ready(self):
        """A request reads the house settings once."""
        from django.core.signals import request_finished, request_started

        from frimble.people import settings as house_settings

        request_started.connect(house_settings.begin_request)
        request_finished.connect(house_settings.end_request)
