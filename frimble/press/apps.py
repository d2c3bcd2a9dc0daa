from django.apps import AppConfig
from django.db.models.signals import post_save


class PressConfig(AppConfig):
    name = "frimble.press"

    def ready(self):
        """Earlier places lead to the steps done here."""
        from frimble.press.feedback import opacity, panels  # noqa: F401
        from frimble.press.models import PressFeedback
        from frimble.screens import links

        links.add_pages(
            to_press="press:to-press",
            from_press="press:from-press",
            feedback="press:feedback",
            stencil_life="press:life",
            design="press:design",
        )
        post_save.connect(opacity.CACHED.invalidate, sender=PressFeedback, dispatch_uid="opacity of prints")
