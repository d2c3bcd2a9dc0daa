from django.urls import path

from frimble.coatings.batches import views as batches_views
from frimble.coatings.coaters import views as coaters_views
from frimble.coatings.coats import views as coats_views
from frimble.coatings.drying import views as drying_views
from frimble.coatings.emulsions import views as emulsions_views
from frimble.coatings.planner import views as planner_views
from frimble.coatings.runs import views as runs_views
from frimble.coatings.thickness import views as thickness_views

app_name = "coatings"

urlpatterns = [
    path("planner/", planner_views.plan, name="planner"),
    path("planner/name/", planner_views.name_formula, name="name-formula"),
    path("runs/", runs_views.new_run, name="runs"),
    path("runs/<int:pk>/", runs_views.run, name="run"),
    path("coaters/", coaters_views.coater_list, name="coaters"),
    path("steadiness/", thickness_views.steadiness, name="steadiness"),
    path("batches/", batches_views.batches, name="batches"),
    path("batches/<str:code>/", batches_views.batch, name="batch"),
    path("emulsions/", emulsions_views.emulsions, name="emulsions"),
    path("emulsions/new/", emulsions_views.emulsion, name="add-emulsion"),
    path("emulsions/<int:pk>/", emulsions_views.emulsion, name="emulsion"),
    path("drying/", drying_views.cabinet, name="drying"),
    path("drying/<int:pk>/air/", drying_views.air, name="air"),
    path("cabinet/", coats_views.cabinet, name="cabinet"),
    path("<str:code>/", coats_views.coat, name="coat"),
    path("<str:code>/faults/", coats_views.faults, name="faults"),
    path("<str:code>/dry/", drying_views.check, name="dry-check"),
    path("<str:code>/thickness/", thickness_views.measure, name="thickness"),
    path("<str:code>/thickness/gauge/", thickness_views.gauge, name="gauge"),
    path("<str:code>/preview/", coats_views.preview, name="preview"),
]
