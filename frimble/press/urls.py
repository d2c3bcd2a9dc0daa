from django.urls import path

from frimble.press import views
from frimble.press.feedback import views as feedback_views

app_name = "press"

urlpatterns = [
    path("print/<int:pk>.png", feedback_views.print_photo, name="print-photo"),
    path("<str:code>/print/", feedback_views.feedback, name="feedback"),
    path("<str:code>/out/", views.to_press, name="to-press"),
    path("<str:code>/back/", views.from_press, name="from-press"),
]
