"""Scoop coaters as tracked equipment: what was last seen along the edge, and which fits a frame."""

from dataclasses import dataclass

from django.db.models import Count, Prefetch
from django.utils import timezone

from frimble.coatings.models import CoatDefect, Coater, CoaterCheck
from frimble.core.coating import coater as rules


@dataclass(frozen=True)
class CoaterCondition:
    """A coater as it stands: its last check, whether it may coat, and what to do when it may not or is unseen."""

    coater: Coater
    check: CoaterCheck | None
    usable: bool
    words: str
    due: bool


_OF_THE_EDGE = ("line", "bead")


_MARKED_SHOWN = 8


def marked_screens(coater: Coater) -> list[str]:
    """Screens with lines or beads in a coat laid with this coater, newest first."""
    faults = CoatDefect.objects.filter(coat__coater=coater, kind__in=_OF_THE_EDGE).order_by("-at")
    codes = faults.values_list("coat__event__installation__frame__code", flat=True)
    return list(dict.fromkeys(codes[:_MARKED_SHOWN]))


def standing(settings) -> list[CoaterCondition]:
    """Every coater in use with its condition, short ones first."""
    checks = Prefetch("checks", CoaterCheck.objects.select_related("by").order_by("-at", "-pk"))
    coaters = Coater.objects.filter(retired=False).annotate(laid=Count("coats")).order_by("length_mm", "name")
    return [_standing(coater, settings, timezone.now()) for coater in coaters.prefetch_related(checks)]


def condition_of(coater: Coater, settings) -> CoaterCondition:
    """One coater's condition."""
    return _standing(coater, settings, timezone.now())


def _standing(coater, settings, now) -> CoaterCondition:
    check = max(coater.checks.all(), key=lambda c: (c.at, c.pk), default=None)
    if check is None:
        return CoaterCondition(coater, None, True, "Nobody has looked along its edge yet.", True)
    words, does, remedy, usable = rules.CONDITIONS[check.finding]
    days = (now - check.at).days
    due = days > settings["coater.check_days"]
    sentence = f"{words.capitalize()}: it {does}. {remedy.capitalize()}." if does else f"{words.capitalize()}."
    if due:
        sentence += f" Looked at {days} days ago: look along the edge again."
    return CoaterCondition(coater, check, usable, sentence, due or not usable)


def inner_width_mm(frame, settings) -> float:
    """Between the rails a coater runs along: as registered, or the outer width less two profiles."""
    return frame.inside_mm(settings)[0]


def usual_image_mm(frame, settings) -> float:
    """The image's width to coat for where nobody has placed one: what the free mesh leaves beside the tape."""
    return max(
        1.0, inner_width_mm(frame, settings) - 2 * (settings["coater.clear_mm"] + settings["coat.past_image_mm"])
    )


def fits(frame, settings, image_mm=None, among=None) -> list[tuple[CoaterCondition, rules.CoaterFit]]:
    """Each coater, or each of `among`, with whether it suits a frame and an image."""
    inner, image = inner_width_mm(frame, settings), image_mm or usual_image_mm(frame, settings)
    coaters = standing(settings) if among is None else among
    return [(s, rules.fit(s.coater.length_mm, inner, image, settings)) for s in coaters]


def best(frame, settings, image_mm=None, among=None) -> Coater | None:
    """The shortest usable coater that fits, or None."""
    fitting = fits(frame, settings, image_mm, among)
    return next((s.coater for s, fit in fitting if fit.fits and s.usable), None)
