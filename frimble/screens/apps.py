from django.apps import AppConfig


class ScreensConfig(AppConfig):
    name = "frimble.screens"

    def ready(self):
        """The first links of its own places."""
        from frimble.screens import links

        links.add("coat", links.PageLink("Register a screen", "screens:register", True, True))
        links.add("reclaim", links.PageLink("Reclaim products", "screens:products"))
        links.add("mesh", links.PageLink("How long meshes live", "screens:lives"))
        links.add("rack", links.PageLink("Labels", "screens:labels"))
