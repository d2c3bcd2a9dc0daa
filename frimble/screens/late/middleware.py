"""Takes a record that was kept on a device: once, at the moment it happened, wholly or not at all."""

import uuid
from datetime import datetime, timedelta

from django.db import transaction
from django.http import JsonResponse, QueryDict
from django.urls import resolve
from django.utils import timezone
from django.utils.dateparse import parse_datetime

from frimble.people import moments
from frimble.screens.late.models import LateRecord
from frimble.screens.models import Screen
from frimble.ui.input import send_again

# Hidden fields that the device adds to the form it kept; they stay with it when it is refused and sent once more.
NUMBER, MOMENT = "kept_number", "kept_moment"
# A page's script that sends by itself wants to know in one word; a person sees the page.
BY_SCRIPT = "X-Kept"
_OLDEST = timedelta(days=14)
_AHEAD = timedelta(minutes=1)


class LateRecords:
    """In front of all views; what was not kept passes untouched."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        if not _is_kept(request):
            return self.get_response(request)
        try:
            number, moment = _read(request.POST[NUMBER], request.POST.get(MOMENT, ""))
        except ValueError as fault:
            request.POST = _without_moment(request.POST)
            return send_again(request, str(fault), 422)
        if LateRecord.objects.filter(pk=number).exists():
            return _taken(request)
        with moments.happened_at(moment), transaction.atomic():
            answer = self.get_response(request)
            # Recorded is what leads on to the next page; all else was refused, and nothing of it may stay.
            if answer.status_code != 302:
                transaction.set_rollback(True)
                return answer
            LateRecord.objects.create(
                pk=number, happened_at=moment, taken_at=timezone.now(), by=request.user, path=request.path[:200]
            )
        return _taken(request) if BY_SCRIPT in request.headers else answer


def _is_kept(request) -> bool:
    """A kept record of somebody who is signed in; whoever is not is led to the door, which is no record."""
    posted = request.method == "POST" and request.content_type != "application/json"
    return posted and request.user.is_authenticated and NUMBER in request.POST


def _read(number: str, moment: str) -> tuple[uuid.UUID, datetime]:
    """Raises:
    ValueError: with words, where a device's clock or memory cannot be believed.
    """
    try:
        made, happened = uuid.UUID(number), parse_datetime(moment)
    except ValueError:
        made = happened = None
    if made is None or happened is None or timezone.is_naive(happened):
        raise ValueError("What this device kept cannot be read. Look at it: sent again, it is recorded as of now.")
    age = timezone.now() - happened
    if age < -_AHEAD:
        raise ValueError(
            "This device's clock is ahead of the server's: set it. Sent again, this is recorded as of now."
        )
    if age > _OLDEST:
        raise ValueError("This was kept for more than two weeks: sent again, it is recorded as of now.")
    return made, min(happened, timezone.now())


def _without_moment(given: QueryDict) -> QueryDict:
    """What was typed, to be sent again as what happens now."""
    typed = given.copy()
    for name in (NUMBER, MOMENT):
        typed.pop(name, None)
    return typed


def _taken(request):
    """That it is recorded, and the screen's revision now, from which the device's next record of it goes on."""
    code = resolve(request.path).kwargs.get("code", "")
    revision = Screen.objects.filter(frame__code=code.upper()).values_list("revision", flat=True).first()
    return JsonResponse({"taken": True, "revision": revision})
