from django.contrib.auth.views import LogoutView
from django.urls import path

from frimble.people import views
from frimble.people.accounts import views as accounts
from frimble.people.door import views as door
from frimble.people.first_start import views as first_start
from frimble.people.house import views as house

app_name = "people"

urlpatterns = [
    path("", accounts.people, name="people"),
    path("add/", accounts.add_person, name="add-person"),
    path("<int:pk>/", accounts.person, name="person"),
    path("<int:pk>/<str:deed>/", accounts.do_to_person, name="do-to-person"),
    path("me/", accounts.own, name="own"),
    path("me/end-session/", accounts.end_session, name="end-session"),
    path("me/tablet/", accounts.tablet, name="tablet"),
    path("code/", accounts.ask_code, name="ask-code"),
    path("code/<str:code>/", accounts.code, name="code"),
    path("first-start/", first_start.first_start, name="first-start"),
    path("first-start/schools/", first_start.schools, name="schools"),
    path("sign-in/", door.SignIn.as_view(), name="sign-in"),
    path("sign-out/", LogoutView.as_view(), name="sign-out"),
    path("set/<str:name>/", views.set_preference, name="set-preference"),
    path("settings/", house.house_settings_page, name="settings"),
]
