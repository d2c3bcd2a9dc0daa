from django.apps import AppConfig


class ExposuresConfig(AppConfig):
    name = "frimble.exposures"

    def ready(self):
        """Registers this station's part of other pages."""
        from frimble.exposures import panels  # noqa: F401
