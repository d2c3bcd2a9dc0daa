from django.urls import path

from frimble.exposures import readingviews, views

app_name = "exposures"

urlpatterns = [
    path("chart/", views.exposure_chart, name="chart"),
    path("tests/", readingviews.tests, name="tests"),
    path("tests/<int:pk>/", readingviews.reading, name="reading"),
    path("readings/<int:pk>/accept/", readingviews.accept, name="accept"),
    path("run/<int:pk>/", views.run, name="run"),
    path("run/<int:pk>/taps/", views.taps, name="taps"),
    path("run/<int:pk>/abandon/", views.abandon, name="abandon"),
    path("<str:code>/", views.expose, name="expose"),
    path("<str:code>/test/", views.plan_test, name="steptest-plan"),
    path("<str:code>/wash/", views.wash, name="wash"),
    path("<str:code>/inspect/", views.inspect, name="inspect"),
]
