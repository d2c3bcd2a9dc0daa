"""What makes the pages installable: a worker that is served from the top, so that it may answer for all of them."""

from functools import cache
from pathlib import Path

from django.contrib.auth.decorators import login_not_required
from django.http import HttpResponse
from django.views.decorators.http import require_safe


@cache
def _script() -> str:
    return (Path(__file__).parent / "worker.js").read_text()


@login_not_required
@require_safe
def worker(request):
    """The service worker. Browsers ask for it anew at each visit."""
    return HttpResponse(_script(), content_type="text/javascript", headers={"Cache-Control": "no-cache"})
