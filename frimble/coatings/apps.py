from django.apps import AppConfig
from django.db.models.signals import post_save


class CoatingsConfig(AppConfig):
    name = "frimble.coatings"

    def ready(self):
        """What coats have taught is learned anew when it was added to, or when such a record is taken back."""
        from frimble.coatings.drying import learning as drying_learning
        from frimble.coatings.models import Coat, CoatDefect, CoatThickness, DryCheck, Emulsion
        from frimble.coatings.planner import outcomes
        from frimble.coatings.stations import add_links
        from frimble.coatings.thickness import queries as thickness_queries
        from frimble.screens.models import MeshType, ScreenEvent

        add_links()

        rests_on = {
            thickness_queries.CACHED: (CoatThickness, Emulsion, MeshType),
            drying_learning.CACHED: (DryCheck, Emulsion, MeshType),
            outcomes.CACHED: (Coat, CoatDefect, CoatThickness),
        }
        for kept, models in rests_on.items():
            for model in models:
                post_save.connect(kept.invalidate, sender=model, dispatch_uid=f"{kept.name}, {model.__name__}")
        post_save.connect(_hear_of_lives, sender=ScreenEvent, dispatch_uid="coats, lives")


def _hear_of_lives(instance, **kwargs) -> None:
    from frimble.coatings.drying import learning as drying_learning
    from frimble.coatings.planner import outcomes
    from frimble.coatings.thickness import queries as thickness_queries

    if instance.replaces_id or instance.kind == "inspect":
        for kept in (thickness_queries.CACHED, drying_learning.CACHED, outcomes.CACHED):
            kept.invalidate()
