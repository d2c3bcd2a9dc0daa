"""The films of one job laid over each other by their register marks."""

from itertools import combinations

from django.shortcuts import render

from frimble.core.conclusions import InvalidInput
from frimble.core.film.angles import SETS
from frimble.core.mesh import halftone, moire
from frimble.films.models import Film
from frimble.people import settings as house_settings


def separations(request, job_number):
    """The films of one job laid over each other by their register marks, each against the first."""
    films = Film.objects.filter(job_number__iexact=job_number).prefetch_related("checks").order_by("made_at", "pk")
    checked = [(film, next((c for c in film.checks.all() if c.result), None)) for film in films]
    measured = [(film, check) for film, check in checked if check]
    context = {
        "job_number": job_number.upper(),
        "reference": measured[0] if measured else None,
        "rows": [_against(measured[0][1], film, check) for film, check in measured[1:]],
        "unchecked": [film for film, check in checked if not check],
        "marks": [(film, words) for film, check in measured if (words := _marks_missing(check))],
        "plates": _plates([film for film, _ in checked], measured),
        "angle_sets": SETS,
    }
    return render(request, "films/separations.html", context)


def _marks_missing(check) -> str:
    from frimble.core.film import registration

    size = check.result["width_mm"], check.result["height_mm"]
    return registration.marks_missing(check.result["marks"], size)


def _plates(films, measured):
    """What the films' own angles and ruling do with each other and with the mesh they were checked for; None without two."""
    dotted = [f for f in films if f.ruling_lpi and f.angle_deg is not None]
    if len(dotted) < 2 or len({f.ruling_lpi for f in dotted}) > 1:
        return None
    settings = house_settings.current()
    mesh = next((check.mesh for _, check in measured if check.mesh), None)
    ruling_per_cm = 10_000 / halftone.dot_pitch_um(dotted[0].ruling_lpi, settings)
    count = mesh.count_per_cm if mesh else settings["halftone.mesh_over_ruling"] * ruling_per_cm
    alone, pairs = moire.judge_plates(count, ruling_per_cm, [f.angle_deg for f in dotted], 0, settings)
    return {
        "mesh": mesh,
        "alone": [(film, verdict) for film, (_, verdict) in zip(dotted, alone, strict=True)] if mesh else (),
        "conflicts": [
            (one, other, p.period_mm)
            for (one, other), p in zip(combinations(dotted, 2), pairs, strict=True)
            if p.conflict
        ],
        "films": dotted,
    }


def _against(reference, film, check):
    from frimble.core.film import registration

    row = {"film": film, "check": check}
    try:
        fit = registration.compare(reference.result["marks"], check.result["marks"])
    except InvalidInput as error:
        return row | {"refusal": str(error)}
    line_mm = reference.result["limits"]["line_mm"]
    twice = film.separation and film.separation == reference.film.separation
    verdict = (registration.judge_stack if twice else registration.judge)(fit, line_mm)
    return row | {"fit": fit, "verdict": verdict, "twice": twice}
