from django.urls import path

from frimble.screens import (
    labelviews,
    lifeviews,
    meshviews,
    passportviews,
    rackviews,
    reclaimviews,
    registerviews,
    searchviews,
    simplestepviews,
    stationviews,
    tensionviews,
)

app_name = "screens"

urlpatterns = [
    path("rack/", rackviews.rack, name="rack"),
    path("rack/define/", rackviews.define, name="define-rack"),
    path("rack/<int:pk>/", rackviews.change, name="change-rack"),
    path("rack/<int:pk>/walk/", rackviews.walk, name="walk"),
    path("", searchviews.search, name="search"),
    path("lives/", lifeviews.show_lives, name="lives"),
    path("look/", searchviews.keep_look, name="keep-look"),
    path("labels/", labelviews.labels, name="labels"),
    path("labels.pdf", labelviews.as_pdf, name="labels-pdf"),
    path("mesh/", meshviews.meshes, name="meshes"),
    path("mesh/add/", meshviews.add_mesh, name="add-mesh"),
    path("mesh/choose/", meshviews.choose, name="choose-mesh"),
    path("mesh/<int:pk>/moire/", meshviews.moire_card, name="moire"),
    path("mesh/<int:pk>/", meshviews.mesh_card, name="mesh"),
    path("register/", registerviews.register, name="register"),
    path("at/<str:name>/", stationviews.station, name="station"),
    path("products/", reclaimviews.products, name="products"),
    path("<str:code>/", passportviews.passport, name="passport"),
    path("<str:code>/mount/", registerviews.mount, name="mount"),
    path("<str:code>/keep/", passportviews.keep, name="keep"),
    path("<str:code>/label.svg", labelviews.as_svg, name="label"),
    path("<str:code>/marks/", reclaimviews.marks, name="marks"),
    path("<str:code>/do/reclaim/", reclaimviews.reclaim, name="reclaim"),
    path("<str:code>/tension/", tensionviews.tension, name="tension"),
    path("<str:code>/tension/gauge/", tensionviews.gauge, name="gauge"),
    path("<str:code>/tension/preview/", tensionviews.tension_preview, name="tension-preview"),
    path("<str:code>/place/", rackviews.place, name="place"),
    path("<str:code>/take-back/", passportviews.take_back, name="take-back"),
    path("<str:code>/do/<str:kind>/", simplestepviews.step, name="step"),
]
