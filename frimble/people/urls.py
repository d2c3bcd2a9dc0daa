from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.views import LogoutView
from django.urls import path

from frimble.people import views

app_name = "people"

urlpatterns = [
    path("sign-in/", login_not_required(views.SignIn.as_view()), name="sign-in"),
    path("sign-out/", LogoutView.as_view(), name="sign-out"),
    path("set/<str:name>/", views.set_preference, name="set-preference"),
    path("settings/", views.house_settings_page, name="settings"),
]
