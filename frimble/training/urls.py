from django.urls import path

from frimble.training import views

app_name = "training"

urlpatterns = [
    path("", views.training, name="training"),
    path("people/", views.people, name="people"),
    path("<int:pk>/", views.drill_page, name="drill"),
    path("<int:pk>/photo.png", views.photo, name="photo"),
]
