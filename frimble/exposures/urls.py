from django.urls import path

from frimble.exposures.chart import views as chart_views
from frimble.exposures.lamps import views as lamps_views
from frimble.exposures.log import views as log_views
from frimble.exposures.production import views as production_views
from frimble.exposures.steptests.comparison import views as comparison_views
from frimble.exposures.steptests.factorfilms import views as factor_film_views
from frimble.exposures.steptests.film import views as film_views
from frimble.exposures.steptests.guided import views as guided_views
from frimble.exposures.steptests.photo import views as photo_views
from frimble.exposures.steptests.plan import views as plan_views
from frimble.exposures.steptests.reading import views as reading_views
from frimble.exposures.timer import views as timer_views

app_name = "exposures"

urlpatterns = [
    path("chart/", chart_views.exposure_chart, name="chart"),
    path("chart/<int:pk>/withdraw/", chart_views.withdraw, name="withdraw"),
    path("tests/", reading_views.tests, name="tests"),
    path("tests/compare/", comparison_views.compare, name="compare"),
    path("tests/<int:pk>/", reading_views.reading, name="reading"),
    path("tests/<int:pk>/guided/", guided_views.guided, name="guided"),
    path("tests/<int:pk>/photo/", photo_views.send, name="send-photo"),
    path("photos/<int:pk>/", photo_views.photo, name="photo"),
    path("photos/<int:pk>/picture.png", photo_views.picture, name="photo-picture"),
    path("photos/<int:pk>/step-<int:index>.png", photo_views.step_picture, name="step-picture"),
    path("photos/<int:pk>/beside/", photo_views.beside, name="beside"),
    path("tests/<int:pk>/screens/", plan_views.test_screens, name="test-screens"),
    path("test-screens/<int:pk>/start/", plan_views.start_test_screen, name="start-test-screen"),
    path("chart/print/", chart_views.printed, name="chart-print"),
    path("log/", log_views.exposure_log, name="log"),
    path("lamps/", lamps_views.lamps_list, name="lamps"),
    path("lamps/new/", lamps_views.edit, name="add-lamp"),
    path("lamps/<int:pk>/", lamps_views.lamp, name="lamp"),
    path("lamps/<int:pk>/change/", lamps_views.edit, name="edit-lamp"),
    path("lamps/<int:pk>/meter/", lamps_views.meter, name="lamp-meter"),
    path("factor-films/", factor_film_views.factor_films, name="factor-films"),
    path("factor-films/<int:pk>/", factor_film_views.factor_films, name="factor-film"),
    path("film/", film_views.target_film, name="target-film"),
    path("film/<int:steps>-steps-<int:dpi>-dpi.<str:kind>", film_views.download, name="target-file"),
    path("readings/<int:pk>/accept/", reading_views.accept, name="accept"),
    path("run/<int:pk>/", timer_views.run, name="run"),
    path("run/<int:pk>/taps/", timer_views.taps, name="taps"),
    path("run/<int:pk>/abandon/", timer_views.abandon, name="abandon"),
    path("<str:code>/", production_views.expose, name="expose"),
    path("<str:code>/test/", plan_views.plan_test, name="steptest-plan"),
]
