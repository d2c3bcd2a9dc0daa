"""The films of one job laid over each other by their register marks."""

from django.shortcuts import render

from frimble.core.conclusions import InvalidInput
from frimble.films.models import Film


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
    }
    return render(request, "films/separations.html", context)


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
