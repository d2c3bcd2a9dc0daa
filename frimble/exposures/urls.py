from django.urls import path

from frimble.exposures import (
    boothviews,
    chartviews,
    filmviews,
    guidedviews,
    lampviews,
    lightviews,
    photoviews,
    planviews,
    readingviews,
    runviews,
    trialviews,
)

app_name = "exposures"

urlpatterns = [
    path("chart/", chartviews.exposure_chart, name="chart"),
    path("tests/", readingviews.tests, name="tests"),
    path("tests/compare/", trialviews.compare, name="compare"),
    path("tests/<int:pk>/", readingviews.reading, name="reading"),
    path("tests/<int:pk>/guided/", guidedviews.guided, name="guided"),
    path("tests/<int:pk>/photo/", photoviews.send, name="send-photo"),
    path("photos/<int:pk>/", photoviews.photo, name="photo"),
    path("photos/<int:pk>/picture.png", photoviews.picture, name="photo-picture"),
    path("photos/<int:pk>/step-<int:index>.png", photoviews.step_picture, name="step-picture"),
    path("photos/<int:pk>/beside/", photoviews.beside, name="beside"),
    path("tests/<int:pk>/screens/", planviews.test_screens, name="test-screens"),
    path("test-screens/<int:pk>/start/", planviews.start_test_screen, name="start-test-screen"),
    path("chart/print/", chartviews.printed, name="chart-print"),
    path("ledger/", chartviews.ledger, name="ledger"),
    path("lamps/", lampviews.lamps_list, name="lamps"),
    path("lamps/new/", lampviews.edit, name="add-lamp"),
    path("lamps/<int:pk>/", lampviews.lamp, name="lamp"),
    path("lamps/<int:pk>/change/", lampviews.edit, name="edit-lamp"),
    path("lamps/<int:pk>/meter/", lampviews.meter, name="lamp-meter"),
    path("film/", filmviews.target_film, name="target-film"),
    path("film/<int:steps>-steps-<int:dpi>-dpi.<str:kind>", filmviews.download, name="target-file"),
    path("readings/<int:pk>/accept/", readingviews.accept, name="accept"),
    path("run/<int:pk>/", runviews.run, name="run"),
    path("run/<int:pk>/taps/", runviews.taps, name="taps"),
    path("run/<int:pk>/abandon/", runviews.abandon, name="abandon"),
    path("<str:code>/", lightviews.expose, name="expose"),
    path("<str:code>/test/", planviews.plan_test, name="steptest-plan"),
    path("<str:code>/wash/", boothviews.wash, name="wash"),
    path("<str:code>/inspect/", boothviews.inspect, name="inspect"),
]
