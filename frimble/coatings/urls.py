from django.urls import path

from frimble.coatings import coaterviews, dryviews, planviews, potviews, runviews, thicknessviews, views

app_name = "coatings"

urlpatterns = [
    path("planner/", planviews.plan, name="planner"),
    path("planner/name/", planviews.name_formula, name="name-formula"),
    path("runs/", runviews.new_run, name="runs"),
    path("runs/<int:pk>/", runviews.run, name="run"),
    path("coaters/", coaterviews.coater_list, name="coaters"),
    path("steadiness/", coaterviews.steadiness, name="steadiness"),
    path("batches/", potviews.batches, name="batches"),
    path("batches/<str:code>/", potviews.pot, name="pot"),
    path("emulsions/", potviews.emulsions, name="emulsions"),
    path("emulsions/new/", potviews.emulsion, name="add-emulsion"),
    path("emulsions/<int:pk>/", potviews.emulsion, name="emulsion"),
    path("drying/", dryviews.cabinet, name="drying"),
    path("drying/<int:pk>/air/", dryviews.air, name="air"),
    path("cabinet/", views.cabinet, name="cabinet"),
    path("<str:code>/", views.coat, name="coat"),
    path("<str:code>/dry/", dryviews.check, name="dry-check"),
    path("<str:code>/thickness/", thicknessviews.measure, name="thickness"),
    path("<str:code>/thickness/gauge/", thicknessviews.gauge, name="gauge"),
    path("<str:code>/preview/", views.preview, name="preview"),
]
