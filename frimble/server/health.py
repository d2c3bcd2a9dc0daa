"""`/health/`: whether the server can do its work, for a program that watches it."""

import logging

from django.contrib.auth.decorators import login_not_required
from django.db import DatabaseError, connection
from django.http import JsonResponse
from django.utils import timezone
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_safe

from frimble.films.models import ScanCheck
from frimble.server.worker import WatchedWorker

logger = logging.getLogger(__name__)

# The worker that `serve` watches; None where another server runs the pages.
worker: WatchedWorker | None = None


@login_not_required
@never_cache
@require_safe
def health(request):
    """200 when the database answers and the worker lives, else 503; how long the oldest check waits, s."""
    state = {"database": "ok", "worker": _worker_state(), "oldest_waiting_check_s": None}
    try:
        connection.ensure_connection()
        state["oldest_waiting_check_s"] = _oldest_waiting_s()
    except DatabaseError:
        logger.exception("The database does not answer.")
        state["database"] = "does not answer"
    well = state["database"] == "ok" and state["worker"] != "ended"
    return JsonResponse(state | {"status": "ok" if well else "failing"}, status=200 if well else 503)


def _worker_state() -> str:
    if worker is None:
        return "not watched here"
    return "ok" if worker.alive else "ended"


def _oldest_waiting_s() -> float | None:
    oldest = ScanCheck.objects.filter(state=ScanCheck.State.WAITING).order_by("at").values_list("at", flat=True).first()
    return round((timezone.now() - oldest).total_seconds(), 1) if oldest else None
