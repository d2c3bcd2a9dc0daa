"""The way to and from the press."""

from django.utils import timezone

from frimble.core.press.gate import GateCheck
from frimble.people.permissions import press_reporters
from frimble.press import services as press_services
from frimble.press.forms import FromPressForm, ToPressForm
from frimble.press.gate import queries as gate_queries
from frimble.screens.steps.pages import StepPage, show_step

TO_PRESS = StepPage(
    "to_press",
    ToPressForm,
    lambda form, screen, person: press_services.send_to_press(
        screen.code, person, job=form.cleaned_data["job"], went_on=form.cleaned_data["went_on"], **form.common()
    ),
    "Send to press",
    "Taped, pinholes blocked, dry. Pull a test on scrap first.",
    template="press/to_press.html",
)


FROM_PRESS = StepPage(
    "from_press",
    FromPressForm,
    lambda form, screen, person: press_services.back_from_press(
        screen.code, person, impressions=form.cleaned_data["impressions"], **form.common()
    ),
    "Record back from press",
    "How many prints this screen made, test pulls included.",
    done="press:feedback",
)


@press_reporters
def to_press(request, code):
    def extra(screen, settings, form):
        items = gate_queries.checks(screen, settings, timezone.now())
        asked = any(item.check == GateCheck.PINHOLES for item in items)
        sheet = gate_queries.sheet_of(screen) if asked else None
        return {
            "gate": items,
            "gate_due": sum(item.due for item in items),
            "mended_on": sheet.pk if sheet and sheet.decisions.all() else None,
        }

    return show_step(request, code, TO_PRESS, extra)


@press_reporters
def from_press(request, code):
    return show_step(request, code, FROM_PRESS)
