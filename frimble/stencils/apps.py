from django.apps import AppConfig


class StencilsConfig(AppConfig):
    name = "frimble.stencils"

    def ready(self):
        """Earlier places lead to the steps done here."""
        from frimble.screens import links

        links.add_pages(wash="stencils:wash", inspect="stencils:inspect", diagnosis="stencils:diagnosis")
