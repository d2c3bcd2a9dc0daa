"""Addresses of earlier versions that bookmarks may hold: each leads to where its page is now, with what was asked."""

from django.urls import path
from django.views.generic import RedirectView


def _to(name: str):
    return RedirectView.as_view(pattern_name=name, permanent=True, query_string=True)


urlpatterns = [
    path("expose/ledger/", _to("exposures:log")),
    path("expose/<str:code>/wash/", _to("stencils:wash")),
    path("expose/<str:code>/inspect/", _to("stencils:inspect")),
    path("people/standards/", _to("people:settings")),
    path("film/systems/", _to("films:processes")),
    path("film/systems/new/", _to("films:add-process")),
    path("film/<int:pk>/", _to("films:process")),
    path("film/<int:pk>/change/", _to("films:edit-process")),
    path("film/positives/new/", _to("films:add-film")),
    path("film/positives/<int:pk>/", _to("films:film")),
]
