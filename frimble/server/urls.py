"""The server under the pages: how it stands, how it is trusted, and what watches it."""

from django.urls import path

from frimble.server.health import health
from frimble.server.https import views as https
from frimble.server.offline.views import worker
from frimble.server.room.views import room

app_name = "server"
urlpatterns = [
    path("health/", health, name="health"),
    path("worker.js", worker, name="worker"),
    path("server/", room, name="room"),
    path("trust/", https.trust, name="trust"),
    path("trust/authority.crt", https.authority, name="authority"),
]
