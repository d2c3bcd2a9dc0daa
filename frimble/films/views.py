"""The film station: which film systems the shop has."""

from django.shortcuts import render

from frimble.films.models import FilmSystem


def systems(request):
    return render(request, "films/systems.html", {"systems": FilmSystem.objects.all()})
