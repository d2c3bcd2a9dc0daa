from django.urls import path

from frimble.screens.blemishes import views as blemishes_views
from frimble.screens.blemishes.photo import views as mesh_photo_views
from frimble.screens.labels import views as labels_views
from frimble.screens.lives import views as lives_views
from frimble.screens.meshes import views as meshes_views
from frimble.screens.meshes.reading import views as reading_views
from frimble.screens.passport import views as passport_views
from frimble.screens.racks import views as racks_views
from frimble.screens.reclaim import views as reclaim_views
from frimble.screens.register import views as register_views
from frimble.screens.search import views as search_views
from frimble.screens.stations import views as stations_views
from frimble.screens.steps import views as steps_views
from frimble.screens.tension import views as tension_views

app_name = "screens"

urlpatterns = [
    path("rack/", racks_views.rack, name="rack"),
    path("rack/define/", racks_views.define, name="define-rack"),
    path("rack/define/drawn/", racks_views.drawn, name="drawn-rack"),
    path("rack/<int:pk>/", racks_views.change, name="change-rack"),
    path("rack/<int:pk>/walk/", racks_views.walk, name="walk"),
    path("", search_views.search, name="search"),
    path("lives/", lives_views.show_lives, name="lives"),
    path("look/", search_views.save_search, name="save-search"),
    path("labels/", labels_views.labels, name="labels"),
    path("labels.pdf", labels_views.as_pdf, name="labels-pdf"),
    path("mesh/", meshes_views.meshes, name="meshes"),
    path("mesh/add/", meshes_views.add_mesh, name="add-mesh"),
    path("mesh/choose/", meshes_views.choose, name="choose-mesh"),
    path("mesh/read/", reading_views.read, name="read-mesh"),
    path("mesh/scale-strip.pdf", reading_views.strip, name="scale-strip"),
    path("mesh/<int:pk>/moire/", meshes_views.moire_card, name="moire"),
    path("mesh/<int:pk>/", meshes_views.mesh_card, name="mesh"),
    path("register/", register_views.register, name="register"),
    path("at/<str:name>/", stations_views.station, name="station"),
    path("marks/<int:pk>.png", blemishes_views.mark_photo, name="mark-photo"),
    path("products/", reclaim_views.products, name="products"),
    path("<str:code>/", passport_views.passport, name="passport"),
    path("<str:code>/mount/", register_views.mount, name="mount"),
    path("<str:code>/keep/", passport_views.keep, name="keep"),
    path("<str:code>/label.svg", labels_views.as_svg, name="label"),
    path("<str:code>/marks/", blemishes_views.marks, name="marks"),
    path("<str:code>/marks/photo/", mesh_photo_views.send, name="mesh-photo"),
    path("<str:code>/do/reclaim/", reclaim_views.reclaim, name="reclaim"),
    path("<str:code>/tension/", tension_views.tension, name="tension"),
    path("<str:code>/tension/gauge/", tension_views.gauge, name="gauge"),
    path("<str:code>/tension/preview/", tension_views.tension_preview, name="tension-preview"),
    path("<str:code>/place/", racks_views.place, name="place"),
    path("<str:code>/take-back/", passport_views.take_back, name="take-back"),
    path("<str:code>/do/<str:kind>/", steps_views.step, name="step"),
]
