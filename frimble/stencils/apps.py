from django.apps import AppConfig
from django.db.models.signals import post_save


class StencilsConfig(AppConfig):
    name = "frimble.stencils"

    def ready(self):
        """Earlier places lead to the steps done here."""
        from frimble.coatings.models import Emulsion
        from frimble.screens import links
        from frimble.screens.models import ScreenEvent
        from frimble.stencils.diagnosis import queries as found_causes
        from frimble.stencils.models import ConfirmedCause, StencilPhoto, StencilProof, Washout
        from frimble.stencils.proofs import trust
        from frimble.stencils.washing import learning

        for station in ("expose", "coat"):
            links.add(station, links.PageLink("Stencil proof", "stencils:proofs"))
        links.add_pages(
            wash="stencils:wash", inspect="stencils:inspect", diagnosis="stencils:diagnosis", harden="stencils:harden"
        )
        for model in (Washout, Emulsion):
            post_save.connect(learning.CACHED.invalidate, sender=model, dispatch_uid=f"rinse, {model.__name__}")
        for model in (StencilPhoto, StencilProof):
            post_save.connect(trust.CACHED.invalidate, sender=model, dispatch_uid=f"trust, {model.__name__}")
        post_save.connect(found_causes.CACHED.invalidate, sender=ConfirmedCause, dispatch_uid="causes found")
        post_save.connect(_hear_of_stencils, sender=ScreenEvent, dispatch_uid="rinse, lives")


def _hear_of_stencils(instance, **kwargs) -> None:
    """A wash that was taken back, or a stencil that failed, teaches nothing any more."""
    from frimble.stencils.washing import learning

    if instance.replaces_id or instance.kind == "inspect":
        learning.CACHED.invalidate()
