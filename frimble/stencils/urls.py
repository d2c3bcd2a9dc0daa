from django.urls import path

from frimble.stencils import views
from frimble.stencils.diagnosis import views as diagnosis_views

app_name = "stencils"

urlpatterns = [
    path("<str:code>/wash/", views.wash, name="wash"),
    path("<str:code>/inspect/", views.inspect, name="inspect"),
    path("<str:code>/wrong/", diagnosis_views.diagnosis, name="diagnosis"),
]
