"""Writing down what the press says."""

from django.db import transaction

from frimble.core.conclusions import InvalidInput, RuleViolation, require_between
from frimble.core.lifecycle import State
from frimble.core.press.cure import checked_celsius
from frimble.people import moments
from frimble.people import settings as house_settings
from frimble.press.feedback.models import PressFeedback
from frimble.press.models import PressVisit
from frimble.screens.models import Cycle
from frimble.ui.photos import redrawn

# From going out to the stencil's end its prints can be spoken of.
SPEAKS = (State.AT_PRESS, State.PRINTED, State.STRIPPED)
_MOST_PASSES, _MOST_SECONDS = 20, 3600
_ANSWERS = ("opacity", "sharpness", "fit", "hold")


@transaction.atomic
def record(screen, person, *, photo=None, **said) -> PressFeedback:
    """What somebody at the press saw of this screen's prints.

    Args:
        said: the model's fields; what is empty was not said.

    Raises:
        RuleViolation: it has not been to press. InvalidInput: nothing was said, or numbers that cannot be.
    """
    if screen.state not in SPEAKS:
        raise RuleViolation("It has not been to press in this life of its stencil: there is no print to speak of.")
    if not any(said.get(name) for name in _ANSWERS) and said.get("impressions") is None:
        raise InvalidInput("Tap at least one answer, or type the impressions.")
    cycle = Cycle.objects.filter(installation=screen.installation_id).order_by("-number").first()
    visits = PressVisit.objects.filter(event__cycle=cycle, event__replaced_by=None)
    visit = visits.order_by("-event__at", "-pk").first()
    _check(said, visit)
    feedback = PressFeedback(
        installation=screen.installation, cycle=cycle, visit=visit, at=moments.now(), by=person, **said
    )
    if photo:
        feedback.photo.save("photo", redrawn(photo, "photo"), save=False)
    feedback.save()
    return feedback


def _check(said: dict, visit: PressVisit | None) -> None:
    settings = house_settings.current()
    impressions = said.get("impressions")
    if impressions is not None:
        require_between(impressions, 0, settings["press.most_impressions"], "The number of impressions", "impressions")
        before = PressFeedback.objects.filter(visit=visit, impressions__isnull=False).first() if visit else None
        if before and impressions < before.impressions:
            raise InvalidInput(
                f"{before.impressions} were written down before, by {before.by}: type all impressions of this run so far.",
                "impressions",
            )
    for name, most, what in (
        ("passes", _MOST_PASSES, "The number of passes"),
        ("flashes", _MOST_PASSES, "The number of flashes"),
        ("off_contact_mm", 30, "The off-contact, in mm,"),
        ("ink_s", _MOST_SECONDS, "The time at it, in s,"),
    ):
        if said.get(name) is not None:
            require_between(said[name], 0, most, what, name)
    if said.get("ink_c") is not None:
        checked_celsius(said["ink_c"])
