"""Factor films: the list, and one entered or mended."""

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render

from frimble.exposures.models import FactorFilm
from frimble.exposures.steptests.factorfilms import services as factor_film_services
from frimble.exposures.steptests.factorfilms.forms import FactorFilmForm
from frimble.people.permissions import leads


@leads
def factor_films(request, pk=None):
    """The shop's own factor films, and the form of one."""
    film = get_object_or_404(FactorFilm, pk=pk) if pk else None
    form = FactorFilmForm(request.POST or None, initial=_start(film))
    if request.method == "POST":
        kept = form.attempt(lambda data: factor_film_services.keep(film, **data))
        if kept:
            messages.success(request, f"{kept} is kept.")
            return redirect("exposures:factor-films")
    context = {"form": form, "film": film, "films": FactorFilm.objects.all()}
    return render(request, "exposures/steptests/factor_films.html", context, status=422 if form.errors else 200)


def _start(film) -> dict:
    if film is None:
        return {}
    return {
        "name": film.name,
        "factors": film.factor_words,
        "areas": "\n".join(f"{area}: {use}" for area, use in film.areas),
    }
