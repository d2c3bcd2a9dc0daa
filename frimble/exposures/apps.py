from django.apps import AppConfig
from django.db.models.signals import post_save


class ExposuresConfig(AppConfig):
    name = "frimble.exposures"

    def ready(self):
        """Registers this station's part of other pages, and lets the light room know when it is written to."""
        from frimble.coatings.models import Batch, Emulsion
        from frimble.exposures import room as light_room
        from frimble.exposures.chart import panels  # noqa: F401
        from frimble.exposures.chart import queries as chart_queries
        from frimble.exposures.models import ChartEntry, ChartWithdrawal, ControlStrip, Exposure, Lamp, LampRecord
        from frimble.films.models import DensityReading, FilmProcess
        from frimble.films.processes.uses import longest_over_cure_by
        from frimble.people.models import Person
        from frimble.screens import links
        from frimble.screens.models import MeshType

        links.add_pages(expose="exposures:expose", plan_test="exposures:steptest-plan", read_test="exposures:reading")
        links.add("expose", links.PageLink("Exposure chart", "exposures:chart"))
        links.add(
            "expose",
            links.PageLink("Step tests", "exposures:tests"),
            links.PageLink("Step-test film", "exposures:target-film"),
            links.PageLink("Factor films", "exposures:factor-films"),
            links.PageLink("Light sources", "exposures:lamps"),
            links.PageLink("Light given", "exposures:log"),
        )
        longest_over_cure_by(chart_queries.over_cure_of)
        for model in (ControlStrip, Exposure, LampRecord, DensityReading, FilmProcess):
            post_save.connect(light_room.invalidate, sender=model, dispatch_uid=f"light room, {model.__name__}")
        for model in (ChartEntry, ChartWithdrawal, Lamp, FilmProcess, MeshType, Emulsion, Batch, Person):
            post_save.connect(chart_queries.IN_FORCE.invalidate, sender=model, dispatch_uid=f"chart, {model.__name__}")
