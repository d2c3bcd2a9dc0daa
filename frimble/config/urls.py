"""One line for each place in the room."""

from django.urls import include, path

urlpatterns = [
    path("", include("frimble.config.moved")),
    path("", include("frimble.server.urls")),
    path("", include("frimble.jobs.urls")),
    path("how-to/", include("frimble.handbook.urls")),
    path("people/", include("frimble.people.urls")),
    path("screens/", include("frimble.screens.urls")),
    path("film/", include("frimble.films.urls")),
    path("coat/", include("frimble.coatings.urls")),
    path("exchange/", include("frimble.exchange.urls")),
    path("expose/", include("frimble.exposures.urls")),
    path("stencil/", include("frimble.stencils.urls")),
    path("press/", include("frimble.press.urls")),
    path("training/", include("frimble.training.urls")),
]

handler400 = "frimble.ui.views.unreadable"
handler404 = "frimble.ui.views.not_found"
handler500 = "frimble.ui.views.broken"
handler403 = "frimble.ui.views.forbidden"
