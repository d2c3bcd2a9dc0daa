"""Exposure as a technician works it: a test of another kind, a photo, two readers, lamps, drift."""

import tempfile
from datetime import timedelta
from pathlib import Path
from uuid import uuid4

from django.utils import timezone
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from frimble.coatings.coats.services import coat
from frimble.coatings.models import Batch
from frimble.core.coating.drying import Air
from frimble.core.exposure.steptest import plan as steptest
from frimble.core.exposure.steptest.reading import StepGrade
from frimble.core.settings import HouseSettings
from frimble.exposures.chart import services as chart_services
from frimble.exposures.models import (
    ChartEntry,
    ControlStrip,
    Exposure,
    Lamp,
    LampRecord,
    Run,
    StepPhoto,
    StepTest,
    TestComparison,
)
from frimble.exposures.models import TestReading as Reading
from frimble.exposures.room import LightRoom
from frimble.exposures.steptests.plan import services as plan_services
from frimble.exposures.steptests.reading import services as reading_services
from frimble.exposures.timer import services as timer_services
from frimble.films.models import FilmProcess
from frimble.screens.models import Screen
from frimble.screens.steps.services import degrease, record_mesh_dry
from frimble.stencils.washing import services as stencil_services
from frimble.testing.browser.base import NARROW, BrowserCase
from frimble.testing.shop import small_shop


class ExposureTests(BrowserCase):
    def setUp(self):
        super().setUp()
        self.people = small_shop()
        self.tamsin, self.odile = self.people["tamsin"], self.people["odile"]
        self.lamp, self.film = Lamp.objects.get(), FilmProcess.objects.get()
        self.sign_in("tamsin")

    def coated(self, code):
        degrease(code, self.tamsin, dwell_s=30)
        record_mesh_dry(code, self.tamsin)
        coat(code, self.tamsin, formula="P1 S1", batch=Batch.objects.get(), air=Air(34, 0.4))
        Screen.objects.filter(frame__code=code).update(wet_until=timezone.now() - timedelta(minutes=5))

    def light(self):
        """Lamp on and off at the open timer, with the second between that any lamp needs."""
        self.press("Lamp on")
        self.wait(lambda: self.light_gone() > 1)
        self.press("Lamp off")
        self.sees("Recorded.")

    def exposed_test(self, steps=9, washed=True, code="Q-014"):
        """A card test with the shop's own film, run to plan."""
        self.coated(code)
        plan = steptest.plan_moving_card(30, steps, "cbrt2", HouseSettings(), lag_s=self.lamp.start_lag_s)
        run = plan_services.start_test(
            code,
            self.odile,
            plan,
            lamp=self.lamp,
            film_process=self.film,
            length_mm=245,
            revision=None,
            own_film=True,
            override_reason="test",
        )
        Run.objects.filter(pk=run.pk).update(made_at=timezone.now() - timedelta(seconds=run.total_s + 1))
        run.refresh_from_db()
        kinds = ["start", *["move"] * len(run.moves_s), "stop"]
        at = [run.made_at + timedelta(seconds=s) for s in (0, *run.moves_s, run.total_s)]
        timer_services.take_taps(run.pk, [(uuid4(), k, t) for k, t in zip(kinds, at, strict=True)])
        if washed:
            stencil_services.wash(code, self.tamsin, soak_s=40, rinse_s=90)
        return StepTest.objects.get(screen__frame__code=code)

    def calibrated(self):
        test = self.exposed_test(steps=4)
        return chart_services.accept(
            reading_services.read_test(test, self.graded(test), "middle", 150, self.tamsin), self.tamsin
        )

    def graded(self, test):
        words = ("over", "good", "good", "short")
        return [StepGrade(n, t, g) for n, (t, g) in enumerate(zip(test.times_s, words, strict=True), 1)]

    def test_a_test_is_read_by_photo_set_right_by_hand_and_accepted(self):
        test = self.exposed_test()
        self.go(f"/expose/tests/{test.pk}/")
        self.press("Read by photo")
        self.press("Use the simulated camera")
        self.sees("As it was seen")
        self.sees("sure that this lies in the window")
        photo = StepPhoto.objects.get()
        self.assertEqual(photo.refused, "")
        rows = self.driver.find_elements(By.CSS_SELECTOR, "#take tbody tr")
        self.assertEqual(len(rows), 9)
        self.press("Two steps side by side, enlarged")
        self.sees("Bold: what was measured")
        shown = "return [...document.querySelectorAll('.step-pair image')].map(i => i.getBoundingClientRect().height)"
        self.wait(lambda: min(self.driver.execute_script(shown)) > 1000)
        self.fill("Step there", "30")
        self.press("Show them")
        self.sees("has steps 1 to 9")
        self.go(f"/expose/photos/{photo.pk}/")
        self.press("Take over as the reading")
        self.sees("All readings together")
        self.sees("Tamsin by photo")
        self.press("Accept into chart")
        self.sees("In the exposure chart")
        entry = ChartEntry.objects.get()
        self.assertAlmostEqual(entry.time_s, photo.result["recommended_s"], places=3)
        self.assertEqual(entry.facts["lamp"], "Lantern A")

    def test_a_test_is_read_strip_by_strip_and_the_grades_follow(self):
        test = self.exposed_test(steps=4)
        self.go(f"/expose/tests/{test.pk}/")
        self.press("Strip by strip, guided")
        # Shortest first: slimy, good, good, filled. The second is left open at first.
        seen = {4: ("good", "good", "good"), 2: ("good", "good", "good"), 1: ("good", "good", "filled")}
        for strip in (4, 3, 2, 1):
            self.sees(f"Strip {strip}, ")
            self.mark(strip, seen.get(strip, ()))
            if strip == 4:
                self.mark_box("slimy_4")
            if strip != 1:
                self.press("Next strip")
        self.press("Rank and work out the time")
        self.sees("Not recorded yet")
        self.sees("Strip 3, 2 of 4")
        self.sees("Say what you see")
        self.mark(3, ("good", "good", "good"))
        self.type_keys(Keys.ARROW_RIGHT, Keys.ARROW_RIGHT)
        self.press("Rank and work out the time")
        self.sees("How each grade came about")
        steps = {s.strip: s for s in Reading.objects.get().steps.all()}
        self.assertEqual([steps[n].grade for n in (4, 3, 2, 1)], ["short", "good", "good", "over"])
        self.assertEqual(steps[1].marks, {"blocks": "good", "lines": "good", "openings": "filled"})
        self.assertTrue(steps[4].slimy)
        self.press("How each grade came about")
        self.sees("its squeegee side is slimy")

    def mark(self, strip, marks):
        for feature, mark in zip(("blocks", "lines", "openings"), marks, strict=False):
            self.mark_box(f"{feature}_{strip}", mark)

    def mark_box(self, name, value=None):
        given = f"[value='{value}']" if value else ""
        self.driver.find_element(By.CSS_SELECTOR, f"input[name='{name}']{given}").click()

    def test_two_tests_are_set_against_each_other_and_the_answer_kept(self):
        first, second = (self.exposed_test(steps=4, code=code) for code in ("Q-014", "Q-015"))
        for test in (first, second):
            reading_services.read_test(test, self.graded(test), "middle", 150, self.tamsin)
        self.go(f"/expose/tests/{second.pk}/")
        self.press("Set it beside another test")
        self.fill("Against", "Q-014")
        self.press("Set them side by side")
        self.sees("Nothing that is on record")
        self.press("Keep this trial")
        self.sees("Say in a few words")
        self.fill("What the trial was to tell", "Do two coats repeat?")
        self.press("Keep this trial")
        self.sees("Do two coats repeat?")
        kept = TestComparison.objects.get()
        self.assertEqual((kept.one, kept.other, kept.verdict), (second, first, "a repeat"))

    def test_the_chart_shows_what_is_tested_and_leads_to_its_reason(self):
        entry = self.calibrated()
        self.go("/expose/chart/")
        self.sees("What is tested")
        self.press(f"{entry.time_s:.3g} s")
        self.wait(lambda: self.driver.current_url.endswith(f"#time-{entry.pk}"))
        self.press("Why")
        self.sees(entry.reason[:40])

    def test_a_photo_of_something_else_is_refused_with_what_is_wanted(self):
        test = self.exposed_test()
        self.go(f"/expose/tests/{test.pk}/photo/")
        with tempfile.TemporaryDirectory() as folder:
            note = Path(folder) / "list.pdf"
            note.write_bytes(b"%PDF-1.4 a list")
            self.fill("The film's scale bar measures", "199.9")
            self.driver.find_element(By.NAME, "photo").send_keys(str(note))
            self.press("Read the photo")
            self.sees("This is a PDF: JPEG, PNG and WebP are accepted.")
            self.assertEqual(self.field("The film's scale bar measures").get_attribute("value"), "199.9")
            self.fill("The film's scale bar measures", "194")
            self.press("Read the photo")
            self.sees("the printer scaled it by -3.0 %")
        self.assertFalse(StepPhoto.objects.exists())

    def test_a_second_reader_sees_no_grades_of_the_first_and_the_difference_is_shown(self):
        test = self.exposed_test(steps=4)
        reading_services.read_test(test, self.graded(test), "middle", 150, self.odile)
        self.go(f"/expose/tests/{test.pk}/")
        self.press("Read it yourself, as Odile did")
        self.sees("Work out the time")
        self.assertFalse(self.driver.find_elements(By.CSS_SELECTOR, "input[name^=grade_]:checked"))
        for strip, grade in ((1, "over"), (2, "good"), (3, "short"), (4, "short")):
            box = self.driver.find_element(By.CSS_SELECTOR, f"input[name=grade_{strip}][value={grade}]")
            self.driver.execute_script("arguments[0].click()", box)
        self.press("Work out the time")
        self.sees("short to one and good to another")
        self.sees("Readers differ, so the interval is wider.")
        self.assertEqual(Reading.objects.count(), 2)

    def test_a_factor_film_and_a_grey_scale_are_planned_timed_and_read(self):
        self.coated("Q-015")
        self.go("/expose/Q-015/test/")
        self.press("Factor film")
        self.fill("Your guess", "2")
        self.fill("Factors on the film", "1 0.5")
        self.press("Work out the plan")
        self.sees("Give three factors at least")
        self.go("/expose/Q-015/test/?kind=grey")
        self.fill("Your guess", "1")
        self.press("Work out the plan")
        self.sees("with the right time step 7 is the highest that stands solid")
        self.choose("Dry: no tack")
        self.press("Go to the timer")
        self.sees("One exposure")
        self.light()
        test = StepTest.objects.get()
        self.assertEqual((test.kind, len(test.real_times_s)), ("grey", 21))
        stencil_services.wash("Q-015", self.tamsin, soak_s=40, rinse_s=90)
        self.go(f"/expose/tests/{test.pk}/")
        self.sees("the highest step that stands solid")
        self.fill("Highest step that stands solid", "30")
        self.press("Work out the time")
        self.sees("must be between 1 and 21")
        self.fill("Highest step that stands solid", "7")
        self.press("Work out the time")
        self.sees("Step 7 stands and step 7 is wanted")
        self.assertAlmostEqual(Reading.objects.get().recommended_s, test.real_times_s[0], places=2)

    def test_one_screen_for_each_time(self):
        for code in ("Q-014", "Q-015", "Q-016"):
            self.coated(code)
        self.go("/expose/Q-014/test/?kind=screens")
        self.fill("Your guess", "1")
        self.fill("Other screens, coated alike", "Q-015, Q-016")
        self.press("Work out the plan")
        self.sees("each with a time of its own")
        self.choose("Dry: no tack")
        self.press("To the screens")
        for _ in range(3):
            self.press("Go to the timer")
            self.light()
            self.go(f"/expose/tests/{StepTest.objects.get().pk}/screens/")
        self.sees("All have had their light")
        self.assertEqual(StepTest.objects.get().status, "exposed")
        self.assertEqual(Exposure.objects.count(), 3)

    def test_a_lamp_is_metered_and_its_drift_is_shown_where_it_matters(self):
        entry = self.calibrated()
        self.go(f"/expose/lamps/{self.lamp.pk}/")
        self.sees("Read its hours")
        self.driver.find_element(By.ID, "hours-hours").send_keys("1200")
        self.press("Record hours")
        self.sees("1200 h")
        self.press("Keep the field map")
        self.sees("three rows of three readings")
        form = self.driver.find_element(By.NAME, "field_0").find_element(By.XPATH, "./ancestor::form")
        form.find_element(By.XPATH, ".//button[contains(., 'Read the light meter')]").click()
        self.wait(
            lambda: all(i.get_attribute("value") for i in self.driver.find_elements(By.CSS_SELECTOR, ".nine input"))
        )
        self.press("Keep the field map")
        self.sees("The darkest place gets")
        self.assertEqual(LampRecord.objects.filter(kind="field", simulated=True).count(), 1)
        exposure = Exposure.objects.get()
        for step in (7, 6.5, 7, 7, 7, 5.5, 5.5, 5.5, 5.5, 5.5):
            ControlStrip.objects.create(
                exposure=exposure, lamp=self.lamp, emulsion=entry.emulsion, step=step, by=self.tamsin, at=timezone.now()
            )
        self.assertTrue(LightRoom(HouseSettings()).drifts([entry])[0][2].signal)
        self.go("/")
        self.sees("Lantern A, Saltern Dual")
        self.coated("Q-015")
        self.go("/expose/Q-015/")
        self.sees("Control strips")
        self.sees("To give")
        self.sees("Corrected: test again soon")
        given = self.driver.find_element(By.CSS_SELECTOR, ".figure-large").text
        self.assertGreater(float(given.split()[0]), entry.time_s)

    def test_the_film_is_drawn_and_taken_and_the_phone_shows_it_whole(self):
        self.go("/expose/film/?steps=2&dpi=600")
        self.sees("between 3 and 21")
        self.go("/expose/film/")
        self.fill("Steps", "12")
        self.press("Draw it")
        self.sees("Openings of 85, 127, 169")
        self.resize(NARROW)
        self.go("/expose/film/?steps=12&dpi=600")
        self.assertLessEqual(self.driver.execute_script("return document.documentElement.scrollWidth"), NARROW[0])
