from django.urls import path

from frimble.stencils import views

app_name = "stencils"

urlpatterns = [
    path("<str:code>/wash/", views.wash, name="wash"),
    path("<str:code>/inspect/", views.inspect, name="inspect"),
]
