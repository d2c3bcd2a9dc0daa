from django.urls import path

from frimble.films import views

app_name = "films"

urlpatterns = [
    path("", views.systems, name="systems"),
    path("<int:pk>/", views.system, name="system"),
    path("<int:pk>/densitometer/", views.densitometer, name="densitometer"),
]
