"""Films: the list, and one film's record."""

from django.contrib import messages
from django.core.paginator import Paginator
from django.db.models import Q
from django.shortcuts import get_object_or_404, redirect, render

from frimble.films.checks import services as check_services
from frimble.films.checks.forms import ScanForm
from frimble.films.library import services as library_services
from frimble.films.library.forms import FilmForm, TouchUpForm
from frimble.films.models import Film
from frimble.people.permissions import recorders
from frimble.screens.links import page_url

_FILMS_A_PAGE = 50


def films(request):
    """Every film with its last check, or those whose name, job or place holds what was typed."""
    films = Film.objects.select_related("process").prefetch_related("checks")
    text = request.GET.get("q", "").strip()
    for word in text.split():
        films = films.filter(
            Q(name__icontains=word)
            | Q(separation__icontains=word)
            | Q(job_number__iexact=word)
            | Q(kept_at__icontains=word)
        )
    page = Paginator(films, _FILMS_A_PAGE).get_page(request.GET.get("page"))
    return render(request, "films/films.html", {"page": page, "text": text})


@recorders
def add_film(request):
    """A new film on the bench."""
    form = FilmForm(request.POST or None, initial={"job_number": request.GET.get("job", "")})
    if request.method == "POST":
        film = form.attempt(lambda cleaned: library_services.add_film(request.user, **cleaned))
        if film:
            messages.success(request, f"{film} is on the bench. Scan it next.")
            return redirect("films:film", film.pk)
    return render(request, "films/add_film.html", {"form": form}, status=422 if form.errors else 200)


@recorders
def film(request, pk):
    """One film: what it is, its checks, its touch-ups; and the place to hand in a scan."""
    film = get_object_or_404(Film.objects.select_related("process"), pk=pk)
    touching = request.method == "POST" and "words" in request.POST
    scan_form = ScanForm(None if touching else request.POST or None, None if touching else request.FILES or None)
    touch_form = TouchUpForm(request.POST if touching else None)
    if touching:
        if touch_form.attempt(lambda cleaned: library_services.touch_up(film, request.user, **cleaned)):
            messages.success(request, "Written down.")
            return redirect("films:film", pk)
    elif request.method == "POST":
        check = scan_form.attempt(lambda cleaned: check_services.submit(film, request.user, **cleaned))
        if check:
            return redirect("films:sheet", check.pk)
    bad = scan_form.errors or touch_form.errors
    context = {"film": film, "form": scan_form, "touch": touch_form, "checks": film.checks.select_related("by")}
    context["stencils_url"] = page_url("design", film.pk)
    return render(request, "films/film.html", context, status=422 if bad else 200)
