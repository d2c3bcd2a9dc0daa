from django.urls import path

from frimble.press import views
from frimble.press.defects import views as defect_views
from frimble.press.feedback import views as feedback_views
from frimble.press.life import views as life_views

app_name = "press"

urlpatterns = [
    path("print/<int:pk>.png", feedback_views.print_photo, name="print-photo"),
    path("films/<int:pk>/", life_views.design, name="design"),
    path("<str:code>/life/", life_views.life, name="life"),
    path("<str:code>/print/where/", defect_views.where, name="where"),
    path("<str:code>/print/", feedback_views.feedback, name="feedback"),
    path("<str:code>/out/", views.to_press, name="to-press"),
    path("<str:code>/back/", views.from_press, name="from-press"),
]
