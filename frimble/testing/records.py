"""Records of screens in tests: what a test does not care about is filled in."""

from django.utils import timezone

from frimble.exposures.models import Lamp, Run
from frimble.films.models import FilmProcess
from frimble.people.models import Person
from frimble.screens import ledger
from frimble.screens.models import Screen

_LONG_DRY = "2026-01-01T00:00:00+00:00"
_USUAL = {
    "degrease": {"dwell_s": 30, "wet_until": _LONG_DRY},
    "coat": {"layer": 1, "layers": 1, "wet_until": _LONG_DRY},
    "wash": {"soak_s": 60, "rinse_s": 30, "wet_until": _LONG_DRY},
    "expose": {"is_test": False, "given_s": 20},
    "inspect": {"passed": True, "pinholes": 0},
    "to_press": {"job": ""},
    "from_press": {"impressions": 100},
    "reclaim": {"rounds": 1, "minutes": 8, "outcome": "clean"},
    "take_off": {"ending": "slack"},
}


def record(code, kind, person, *, facts=None, **more):
    """`ledger.record` with the usual facts of the kind beneath those given."""
    return ledger.record(code, kind, person, facts=_USUAL.get(kind, {}) | (facts or {}), **more)


def open_run(code, **more) -> Run:
    """A lamp timer of the made-up shop that waits for its first tap."""
    usual = {"time_s": 20, "total_s": 20, "why": "for the page", "made_at": timezone.now()}
    return Run.objects.create(
        screen=Screen.objects.get(frame__code=code),
        lamp=Lamp.objects.first(),
        film_process=FilmProcess.objects.first(),
        made_by=Person.objects.get(username="odile"),
        **usual | more,
    )
