"""A stencil's whole life, and what became of a film's stencils."""

from django.http import Http404
from django.shortcuts import get_object_or_404, render

from frimble.films.models import Film
from frimble.press.life import presenters, queries
from frimble.screens.steps.pages import get_screen
from frimble.ui.input import row_number

_LISTED = 12


def life(request, code):
    """The stencil on the mesh, or an earlier one of it."""
    screen = get_screen(code)
    cycles = queries.cycles_of(screen)
    chosen = _chosen(request.GET.get("stencil"), cycles)
    lives = queries.lives_of([chosen]) if chosen else []
    context = {
        "screen": screen,
        "cycles": cycles[:_LISTED],
        "chosen": chosen,
        "life": lives[0] if lives else None,
        "part": presenters.life_part(lives[0]) if lives else None,
    }
    return render(request, "press/life/life.html", context)


def _chosen(typed, cycles):
    if not typed:
        return cycles[0] if cycles else None
    number = row_number(typed)
    found = next((c for c in cycles if c.pk == number), None)
    if found is None:
        raise Http404("No stencil of that number.")
    return found


def design(request, pk):
    """A film's stencils with how each ended, and the recipe that did best."""
    film = get_object_or_404(Film, pk=pk)
    context = {
        "film": film,
        "alike": queries.films_alike(film),
        "part": presenters.design_part(queries.stencils_of(film)),
    }
    return render(request, "press/life/design.html", context)
