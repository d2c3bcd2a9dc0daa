from django.urls import path

from frimble.stencils.diagnosis import views as diagnosis_views
from frimble.stencils.inspecting import views as inspecting_views
from frimble.stencils.washing import views as washing_views

app_name = "stencils"

urlpatterns = [
    path("latent/<int:pk>.png", washing_views.latent_photo, name="latent-photo"),
    path("<str:code>/wash/", washing_views.wash, name="wash"),
    path("<str:code>/inspect/", inspecting_views.inspect, name="inspect"),
    path("<str:code>/wrong/", diagnosis_views.diagnosis, name="diagnosis"),
]
