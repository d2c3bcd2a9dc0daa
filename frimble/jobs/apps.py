from django.apps import AppConfig


class JobsConfig(AppConfig):
    name = "frimble.jobs"

    def ready(self):
        """Where coats are laid, what jobs want coated is one step away."""
        from frimble.screens import links

        for station in ("coat", "dry"):
            links.add(station, links.PageLink("Coated stock", "jobs:coated"))
