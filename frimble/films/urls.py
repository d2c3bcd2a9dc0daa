from django.urls import path

from frimble.films import views

app_name = "films"

urlpatterns = [path("", views.systems, name="systems")]
