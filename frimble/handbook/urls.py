from django.urls import path

from frimble.handbook import views

app_name = "handbook"
urlpatterns = [
    path("", views.topics, name="topics"),
    path("here/", views.here, name="here"),
    path("handbook.pdf", views.printed, name="printed"),
    path("<str:name>/", views.one, name="topic"),
]
