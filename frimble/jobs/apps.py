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
        self._follow_writes()

    def _follow_writes(self):
        from django.db.models.signals import post_save

        from frimble.coatings.models import BatchRecord, CoatingRun
        from frimble.films.models import Film, ScanCheck
        from frimble.jobs.choosing.films import name_film
        from frimble.jobs.cost import queries as cost
        from frimble.jobs.day import durations
        from frimble.press.models import PressFeedback
        from frimble.screens.models import ScreenEvent

        post_save.connect(name_film, sender=Film, dispatch_uid="film of a colour")
        post_save.connect(durations.CACHED.invalidate, sender=ScreenEvent, dispatch_uid="durations of hands")
        for model in (ScreenEvent, ScanCheck, PressFeedback, BatchRecord, CoatingRun):
            post_save.connect(cost.CACHED.invalidate, sender=model, dispatch_uid=f"costs, {model.__name__}")
