from django.urls import path

from frimble.exposures import boothviews, chartviews, lightviews, planviews, readingviews, runviews

app_name = "exposures"

urlpatterns = [
    path("chart/", chartviews.exposure_chart, name="chart"),
    path("tests/", readingviews.tests, name="tests"),
    path("tests/<int:pk>/", readingviews.reading, name="reading"),
    path("readings/<int:pk>/accept/", readingviews.accept, name="accept"),
    path("run/<int:pk>/", runviews.run, name="run"),
    path("run/<int:pk>/taps/", runviews.taps, name="taps"),
    path("run/<int:pk>/abandon/", runviews.abandon, name="abandon"),
    path("<str:code>/", lightviews.expose, name="expose"),
    path("<str:code>/test/", planviews.plan_test, name="steptest-plan"),
    path("<str:code>/wash/", boothviews.wash, name="wash"),
    path("<str:code>/inspect/", boothviews.inspect, name="inspect"),
]
