"""What watches the server asks here."""

from django.urls import path

from frimble.server.health import health

app_name = "server"
urlpatterns = [path("health/", health, name="health")]
