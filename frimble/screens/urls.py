from django.urls import path

from frimble.screens import views

app_name = "screens"

urlpatterns = [
    path("rack/", views.rack, name="rack"),
    path("mesh/", views.meshes, name="meshes"),
    path("mesh/add/", views.add_mesh, name="add-mesh"),
    path("mesh/<int:pk>/", views.mesh_card, name="mesh"),
    path("register/", views.register, name="register"),
    path("at/<str:name>/", views.station, name="station"),
    path("<str:code>/", views.passport, name="passport"),
    path("<str:code>/tension/", views.tension, name="tension"),
    path("<str:code>/tension/gauge/", views.gauge, name="gauge"),
    path("<str:code>/tension/preview/", views.tension_preview, name="tension-preview"),
    path("<str:code>/place/", views.place, name="place"),
    path("<str:code>/take-back/", views.take_back, name="take-back"),
    path("<str:code>/do/<str:kind>/", views.step, name="step"),
]
