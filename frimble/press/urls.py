from django.urls import path

from frimble.press import views

app_name = "press"

urlpatterns = [
    path("<str:code>/out/", views.to_press, name="to-press"),
    path("<str:code>/back/", views.from_press, name="from-press"),
]
