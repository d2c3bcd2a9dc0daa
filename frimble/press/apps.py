from django.apps import AppConfig


class PressConfig(AppConfig):
    name = "frimble.press"

    def ready(self):
        """Earlier places lead to the steps done here."""
        from frimble.press.feedback import panels  # noqa: F401
        from frimble.screens import links

        links.add_pages(to_press="press:to-press", from_press="press:from-press", feedback="press:feedback")
