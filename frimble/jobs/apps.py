from django.apps import AppConfig


class JobsConfig(AppConfig):
    name = "frimble.jobs"

    def ready(self):
        """Where coats are laid, what jobs want coated is one step away."""
        from frimble.people.house.pages import add_room_page
        from frimble.screens import links

        add_room_page("Set up the room", "jobs:setup")

        for station in ("coat", "dry"):
            links.add(station, links.PageLink("Coated stock", "jobs:coated"))
