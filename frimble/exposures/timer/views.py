"""The dark-room timer and its taps."""

import json
import uuid

from django.contrib import messages
from django.http import JsonResponse, RawPostDataException
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from frimble.core import cautions
from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.exposures.models import Run, TestScreen
from frimble.exposures.timer import services as timer_services
from frimble.people import settings as house_settings
from frimble.people.permissions import recorders
from frimble.screens.links import step_url


def run(request, pk):
    """The dark-room timer."""
    shown = get_object_or_404(Run.objects.select_related("screen__frame", "step_test", "lamp", "film_process"), pk=pk)
    context = {
        "run": shown,
        "state": _run_state(shown),
        "caution": cautions.for_step("expose"),
        "dark": True,
        "screen": shown.screen,
        "wash_url": step_url("wash", shown.screen.code),
        "again_url": _again_url(shown),
        "test": shown.step_test,
    }
    return render(request, "exposures/timer/run.html", context)


def _again_url(ended: Run) -> str:
    """Where a run that gave no light is begun again: from the test it belongs to, or the screen's own page."""
    code = ended.screen.frame.code
    if member := TestScreen.objects.filter(run=ended).first():
        return reverse("exposures:test-screens", args=[member.step_test_id])
    return reverse("exposures:steptest-plan", args=[code]) if ended.step_test else step_url("expose", code)


def _run_state(found: Run) -> dict:
    """All that the timer in the browser needs, taps included; times in ms on the server's clock."""
    test = found.step_test if found.moves_s else None
    return {
        "id": found.pk,
        "status": found.status,
        "trouble": found.trouble,
        "moves": found.moves_s,
        "strips": [strip for _, strip in test.moves] if test else [],
        "times": test.planned_times_s if test else [],
        "card": test.card if test else "",
        "total": found.total_s,
        "warmUp": found.warm_up_s,
        "lag": found.lamp.start_lag_s,
        "alert": house_settings.current()["exposure.alert_before_s"],
        "taps": [{"uid": str(t.uid), "kind": t.kind, "at": t.at.timestamp() * 1000} for t in found.taps.all()],
        "now": timezone.now().timestamp() * 1000,
    }


@require_POST
@recorders
def taps(request, pk):
    """Take taps from the timer and answer with the run as it stands."""
    get_object_or_404(Run, pk=pk)
    try:
        sent = [
            (uuid.UUID(t["uid"]), str(t["kind"])[:8], timer_services.tap_time(t["at"]))
            for t in json.loads(request.body)["taps"]
        ]
        # Nothing sent only asks for the clock: no lock is taken for it.
        run = timer_services.take_taps(pk, sent) if sent else Run.objects.get(pk=pk)
    except InvalidInput as error:
        return JsonResponse({"error": str(error), **_run_state(Run.objects.get(pk=pk))}, status=422)
    except (ValueError, KeyError, TypeError, RecursionError, RawPostDataException):
        return JsonResponse({"error": "The taps cannot be read."}, status=400)
    return JsonResponse(_run_state(run))


@require_POST
@recorders
def abandon(request, pk):
    """Give up a run that gave no light."""
    run = get_object_or_404(Run, pk=pk)
    try:
        timer_services.abandon(pk, request.user)
    except RuleViolation as refusal:
        messages.error(request, refusal.reason)
        return redirect("exposures:run", pk)
    messages.success(request, "The run was given up; no light was recorded.")
    return redirect("screens:passport", run.screen.frame.code)
