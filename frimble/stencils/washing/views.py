"""The booth: washing out, guided by timers that go by what such stencils take here."""

from django.shortcuts import get_object_or_404

from frimble.coatings.coats.queries import current_coat
from frimble.coatings.drying.queries import air_now
from frimble.core.conclusions import Conclusion
from frimble.core.stencil import rinse
from frimble.exposures.models import Exposure
from frimble.exposures.steptests import wash as wash_protocol
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders
from frimble.screens.steps.pages import StepPage, show_step
from frimble.stencils.washing import learning, presenters
from frimble.stencils.washing import services as wash_services
from frimble.stencils.washing.forms import WashForm
from frimble.stencils.washing.models import Washout
from frimble.ui.roomlight import in_room_light, picture_answer

_HOW = ("soak_s", "rinse_s", "side", "pressure", "water_c", "distance_cm", "latent", "latent_photo")


def _wash(form, screen, person):
    # Asked before it is recorded: a wash is held against those before it.
    form.usual = _usual(screen)
    how = {name: form.cleaned_data[name] for name in _HOW}
    return wash_services.wash(screen.code, person, **how, **form.common())


def _planned(screen, settings) -> dict:
    """Soak and rinse that a step test on this screen is to have; else the house's soak."""
    test = wash_protocol.waiting_test(screen)
    if test is None or test.soak_s is None:
        return {"soak_s": f"{settings['wash.soak_s']:g}"}
    return {"soak_s": f"{test.soak_s:g}", "rinse_s": f"{test.rinse_s:g}"}


def _light_of(screen) -> Exposure | None:
    """The light that the stencil on this screen had."""
    given = Exposure.objects.filter(event__cycle__installation=screen.installation_id, event__cycle__closed_at=None)
    return given.select_related("entry", "event").order_by("-pk").first()


def _usual(screen) -> Conclusion | None:
    """What such a stencil takes; None for a step test, which is rinsed by plan, and where no coat is on record."""
    coat, light = current_coat(screen), _light_of(screen)
    if coat is None or screen.is_test:
        return None
    return learning.usual(coat, light, house_settings.current())


def _pace(form, event) -> str:
    """A stencil that took longer or shorter than such stencils take, in words; empty where it did not."""
    if form.usual is None:
        return ""
    pace = rinse.pace(event.facts["rinse_s"], form.usual, True)
    return f"{pace.sentence} {pace.why} {pace.now}" if pace.verdict.due else ""


WASH = StepPage(
    "wash",
    WashForm,
    _wash,
    "Record washed out",
    template="stencils/washing/wash.html",
    initial=lambda screen, s: {"side": "print", "pressure": "normal"} | _planned(screen, s),
    tell=_pace,
)


@recorders
def wash(request, code):
    def extra(screen, settings, form):
        coat = current_coat(screen)
        soak_s = float(form.initial.get("soak_s") or settings["wash.soak_s"])
        part = presenters.wash_part(screen, coat, _usual(screen), soak_s, air_now(settings), settings)
        return {"wash": part, "emulsion": coat.batch.emulsion if coat else None}

    return show_step(request, code, WASH, extra, {"files": request.FILES or None})


def latent_photo(request, pk):
    """A photograph of a latent image in the light of the room."""
    washed = get_object_or_404(Washout.objects.exclude(latent_photo=""), pk=pk)
    return picture_answer(in_room_light(washed.latent_photo, request))
