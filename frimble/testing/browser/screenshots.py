"""Redraws docs/screenshots from the demo data: `make screenshots`. Not part of the test run."""

from pathlib import Path

from django.conf import settings
from django.urls import reverse
from django.utils import timezone
from django.utils.http import urlencode
from selenium.webdriver.common.keys import Keys

from frimble.core.training.skills import drill
from frimble.demo import loader
from frimble.demo.day import begin_day
from frimble.exposures.models import ChartEntry, Lamp, Run, StepTest
from frimble.exposures.steptests.photo import services as photo_services
from frimble.films.models import FilmProcess, ScanCheck
from frimble.handbook.pictures import PRINTED
from frimble.handbook.topics import all_topics
from frimble.jobs.day.services import improve
from frimble.jobs.models import PlannedDay
from frimble.people import settings as house_settings
from frimble.people.models import Person
from frimble.stencils.models import StencilPhoto
from frimble.testing.browser.base import NARROW, WIDE, BrowserCase
from frimble.training import services as training_services
from frimble.training.models import DrillRun

FOLDER = Path(settings.BASE_DIR) / "docs" / "screenshots"
_PLACEMENT = (
    "/film/placement/?frame_width=580&frame_height=790&film=330&squeegee=300&coater=400&platen_width=400&platen_height=500"
    "&images-TOTAL_FORMS=2&images-INITIAL_FORMS=0&images-0-name=Pennant&images-0-width=260&images-0-height=190"
    "&images-1-name=Star&images-1-width=90&images-1-height=90&images-1-taped=on"
)
_WRONG = "/stencil/Q-047/wrong/?symptoms=breaks_down_on_press&symptoms=pinholes"
_PLAN = "/expose/Q-035/test/?guess_s=22&steps=8&series=sqrt2&card=cover&length_mm=240"


class Screenshots(BrowserCase):
    def shot(self, name, path=None):
        if path:
            self.go(path)
        self.wait(lambda: self.driver.execute_script("return document.fonts.status") == "loaded")
        self.driver.save_screenshot(str(FOLDER / f"{name}.png"))

    def light(self, light):
        Person.objects.filter(username="tamsin").update(light=light)

    def _photo(self):
        test, person = StepTest.objects.get(mesh__count_per_cm=77), Person.objects.get(username="tamsin")
        result = photo_services.read(
            test, person, photo=photo_services.simulated(test, 600), dpi=600, scale_bar_mm=200, wanted_um=150
        )
        self.shot("step-test-photo", reverse("exposures:photo", args=[result.pk]))

    def _stencil_photo(self):
        self.shot("stencil-photo", reverse("stencils:photo", args=[StencilPhoto.objects.latest("at").pk]))

    def test_draw_the_printed_handbook(self):
        """The handbook's pictures for paper, twice as fine as on the page."""
        loader.load(timezone.now())
        self.sign_in("tamsin")
        self.driver.execute_cdp_cmd(
            "Emulation.setDeviceMetricsOverride",
            {"width": 1280, "height": 800, "deviceScaleFactor": 2, "mobile": False},
        )
        for topic in all_topics():
            if topic.picture:
                self.go(reverse("handbook:topic", args=[topic.name]))
                self.driver.find_element("css selector", "figure svg").screenshot(str(PRINTED / f"{topic.picture}.png"))

    def test_draw_them(self):
        FOLDER.mkdir(parents=True, exist_ok=True)
        loader.load(timezone.now())
        begin_day()
        self.sign_in("tamsin")
        reading = reverse("exposures:reading", args=[StepTest.objects.get(mesh__count_per_cm=77).pk])
        self.shot("today", "/")
        self.shot("passport", "/screens/Q-011/")
        self._tension()
        self.shot("coat-planner", "/coat/planner/?formula=P1+S1+/+P1r+/+P1r")
        self._day_plan()
        self.shot("step-test-reading", reading)
        self._photo()
        self.shot("exposure-chart", "/expose/chart/")
        self.shot("rack", "/screens/rack/")
        self._film_sheet()
        self.shot("placement", _PLACEMENT)
        self.shot("mesh-chooser", "/screens/mesh/choose/?ruling_lpi=45&role=overprint&school=opacity&owned=owned")
        self._stencil_photo()
        self._proof()
        self._drill()
        self.shot("what-went-wrong", _WRONG)
        self.resize(NARROW)
        self.shot("passport-phone", "/screens/Q-011/")
        self.resize(WIDE)
        self.light("safelight")
        self.shot("today-safelight", "/")
        self._runner()

    def _film_sheet(self):
        self.go(reverse("films:sheet", args=[ScanCheck.objects.last().pk]))
        self.key(Keys.ARROW_RIGHT)
        loupe = self.driver.find_element("class name", "loupe")
        weak = "x=98"
        self.wait(
            lambda: (
                weak in loupe.get_attribute("src")
                and self.driver.execute_script("return arguments[0].complete && arguments[0].naturalWidth", loupe)
                == 400
            )
        )
        self.driver.execute_script("window.scrollTo(0, 0)")
        self.shot("film-sheet")

    def _tension(self):
        self.go("/screens/Q-014/tension/")
        self.press("Take reading")
        self.wait(lambda: "Range" in self.text())
        self.shot("tension")

    def _day_plan(self):
        improve.call(PlannedDay.objects.last().pk)
        self.shot("day-plan", "/day/")

    def _proof(self):
        entry = ChartEntry.objects.in_force().order_by("-accepted_at").first()
        asked = {key: getattr(entry, f"{key}_id") for key in ("mesh", "emulsion", "lamp", "film_process")}
        scan = ScanCheck.objects.filter(state="done", film__name="Lugger pennant").latest("pk")
        self.go(f"{reverse('stencils:proofs')}?{urlencode(asked | {'scan': scan.pk, 'formula': entry.formula})}")
        loupe = self.driver.find_element("class name", "proof-loupe")
        self.wait(lambda: self.driver.execute_script("return arguments[0].naturalWidth", loupe) == 620)
        self.sees("of the black here opens")
        self.shot("stencil-proof")

    def _drill(self):
        person = Person.objects.get(username="tamsin")
        settings_now = house_settings.current()
        # A test of strips, which has a photo; a grey scale has none.
        seed = next(k for k in range(20) if drill("steps", 2, k, settings_now).photo is not None)
        run = DrillRun.objects.create(person=person, skill="steps", level=2, seed=seed, begun_at=timezone.now())
        shown = drill("steps", 2, seed, settings_now)
        training_services.answer(run, {question.name: question.right for question in shown.questions})
        self.shot("training-drill", reverse("training:drill", args=[run.pk]))

    def _runner(self):
        # One that needs no warming up, whichever was used last.
        lamp = Lamp.objects.filter(warm_up_s=0).exclude(kind="sun").first()
        self.go(f"{_PLAN}&lamp={lamp.pk}&film_process={FilmProcess.objects.first().pk}")
        self.choose("Dry: no tack")
        self.press("Go to the timer")
        self.sees("Moving card")
        self.key("t")
        self.wait(lambda: Run.objects.get().taps.count() == 1)
        self.wait(lambda: float(self.driver.find_element("class name", "count").text.lstrip("+")) < 3.6)
        self.key("t")
        self.sees("Move 2 of 7")
        self.shot("timer")
