"""Pages of the light room: who may send what, and what they say when there is nothing, much, or something wrong."""

from dataclasses import replace
from datetime import timedelta
from unittest import mock

from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from django.utils import timezone

from frimble.core.exposure.steptest.reading import StepGrade
from frimble.exposures.chart import prediction, staleness
from frimble.exposures.chart import services as chart_services
from frimble.exposures.lamps import services as lamp_services
from frimble.exposures.models import ChartEntry, Exposure, Lamp, LampRecord, Run, StepPhoto, StepTest
from frimble.exposures.production import adjustments as time_adjustments
from frimble.exposures.steptests import kinds
from frimble.exposures.steptests.reading import services as reading_services
from frimble.exposures.tests.test_exposures import LampCase
from frimble.people.models import Person
from frimble.screens.models import MeshInstallation, Screen
from frimble.stencils.washing import services as stencil_services


class PageCase(LampCase):
    def setUp(self):
        super().setUp()
        self.client.force_login(self.tamsin, backend="django.contrib.auth.backends.ModelBackend")

    def dry(self, code="Q-014"):
        Screen.objects.filter(frame__code=code).update(wet_until=timezone.now() - timedelta(minutes=1))

    def sun(self):
        return Lamp.objects.create(name="Yard", kind="sun", geometry="sun")


class EmptyTests(PageCase):
    def test_a_chart_without_times_says_how_one_comes_about(self):
        page = self.client.get(reverse("exposures:chart"))
        self.assertContains(page, "No calibrated time yet")
        self.assertContains(self.client.get(reverse("exposures:chart-print")), "No calibrated time yet")

    def test_a_ledger_without_light(self):
        self.assertContains(self.client.get(reverse("exposures:log")), "No screen has been exposed yet")

    def test_no_light_source_at_all(self):
        Lamp.objects.all().delete()
        self.assertContains(self.client.get(reverse("exposures:lamps")), "No light source yet")


class PlanTests(PageCase):
    def test_each_kind_asks_for_what_it_needs_and_no_more(self):
        asked = {
            "card": b"Length of the test",
            "factor": b"Factors on the film",
            "screens": b"Other screens, coated alike",
        }
        for kind in ("card", "factor", "grey", "screens", "nonsense"):
            page = self.client.get(reverse("exposures:steptest-plan", args=["Q-014"]), {"kind": kind})
            self.assertEqual(page.status_code, 200)
            for other, words in asked.items():
                with self.subTest(kind=kind, other=other):
                    self.assertEqual(words in page.content, other == (kind if kind in (*asked, "grey") else "card"))

    def test_the_shops_own_film_sets_the_cards_edges(self):
        url = reverse("exposures:steptest-plan", args=["Q-014"])
        asked = {"guess_s": 40, "steps": 9, "series": "cbrt2", "own_film": "on"}
        page = self.client.get(url, asked)
        self.assertNotContains(page, "A photo reads best")
        self.assertContains(self.client.get(url, asked | {"series": "sqrt2"}), "A photo reads best off 9 steps or more")
        self.assertAlmostEqual(page.context["edges"][-1], 244.98, delta=0.05)
        self.assertEqual(len(page.context["edges"]), 10)
        self.assertEqual(self.client.get(url, asked | {"own_film": ""}).context["edges"][-1], 240)

    def test_a_fifth_kind_is_a_file_and_the_page_has_it(self):
        self.coated("Q-015")
        fifth = replace(kinds.USUAL, key="half", words="card by halves")
        with mock.patch.dict(kinds.KINDS, {"half": fifth}):
            page = self.client.get(reverse("exposures:steptest-plan", args=["Q-015"]) + "?kind=half")
        self.assertContains(page, "Card by halves")
        self.assertContains(page, 'name="length_mm"')

    def test_a_trial_that_changes_two_things_says_so(self):
        chart_services.accept(self.a_read_test(), self.tamsin)
        self.coated("Q-015")
        page = self.client.get(reverse("exposures:steptest-plan", args=["Q-015"]))
        self.assertContains(page, "nothing differs, a repeat")
        ChartEntry._base_manager.update(formula="P2 S2")
        self.assertContains(
            self.client.get(reverse("exposures:steptest-plan", args=["Q-015"])), "only the coat formula differs"
        )
        lamp = Lamp.objects.create(name="Old Harbour", kind="metal_halide", distance_mm=1000)
        ChartEntry._base_manager.update(lamp=lamp)
        page = self.client.get(reverse("exposures:steptest-plan", args=["Q-015"]))
        self.assertContains(page, "Change one thing at a time")


class SunTests(PageCase):
    def test_the_sky_is_said_or_the_sun_does_not_run(self):
        sun = self.sun()
        self.dry()
        url = reverse("exposures:expose", args=["Q-014"])
        sent = {
            "lamp": sun.pk,
            "film_process": self.film.pk,
            "own_time_s": "20",
            "own_reason": "trial",
            "dry": "on",
            "revision": self.screen().revision,
        }
        page = self.client.post(url, sent)
        self.assertContains(page, "Say how the sky is", status_code=422)
        self.assertFalse(Run.objects.exists())
        self.client.post(url, sent | {"meter": "2.4", "sky": "thin cloud"})
        run = Run.objects.get()
        self.assertEqual((run.meter, run.sky), (2.4, "thin cloud"))
        self.tap(run, 0, 20)
        self.assertEqual(Exposure.objects.get().meter, 2.4)
        page = self.client.get(reverse("exposures:log"))
        self.assertContains(page, "thin cloud")
        # By hand: 2.4 mW/cm² for 20 s are 48 mJ/cm².
        self.assertAlmostEqual(page.context["rows"][0][1], 48)

    def test_a_test_in_the_sun_keeps_what_the_meter_showed_and_a_brighter_sky_shortens_the_time(self):
        sun = self.sun()
        run = self.start_test(lamp=sun, guess=30, meter=2.0, sky="clear")
        self.tap(run, 0, *run.moves_s, run.total_s)
        stencil_services.wash("Q-014", self.tamsin, soak_s=40, rinse_s=90)
        test = StepTest.objects.get()
        steps = [
            StepGrade(n, t, g)
            for n, (t, g) in enumerate(zip(test.times_s, ("over", "good", "good", "short"), strict=True), start=1)
        ]
        entry = chart_services.accept(reading_services.read_test(test, steps, "middle", 150, self.tamsin), self.tamsin)
        self.assertEqual(entry.meter, 2.0)
        result = time_adjustments.factors_for(entry, test.batch, time_adjustments.SunNow(2.5, "clear"), self.room)
        # By hand: the same dose under 2.5 as under 2.0 takes 0.8 of the time.
        self.assertEqual([(f.name, round(f.value, 3)) for f in result], [("sun by the meter", 0.8)])
        noon = timezone.now().replace(month=6, day=21, hour=11)
        Run.objects.update(made_at=noon)
        with mock.patch.object(time_adjustments.timezone, "localtime", side_effect=lambda at=None: at or noon):
            (cloud,) = time_adjustments.factors_for(
                ChartEntry.objects.get(), test.batch, time_adjustments.SunNow(None, "overcast"), self.room
            )
        # From memory: overcast takes two thirds to four fifths of the ultraviolet; without a meter that is little sure.
        self.assertTrue(2.5 < cloud.value < 5)
        self.assertGreater(cloud.high / cloud.low, 2.5)

    def test_the_plan_of_a_test_in_the_sun_asks_for_the_meter(self):
        self.dry()
        asked = {"guess_s": 30, "steps": 4, "series": "arithmetic", "lamp": self.sun().pk, "film_process": self.film.pk}
        url = reverse("exposures:steptest-plan", args=["Q-014"])
        self.assertContains(self.client.get(url, asked), "The light meter shows")
        sent = asked | {"kind": "card", "card": "cover", "length_mm": "240", "dry": "on", "revision": ""}
        self.assertContains(self.client.post(url, sent), "Say how the sky is", status_code=422)
        self.client.post(url, sent | {"meter": "2", "sky": "clear"})
        self.assertEqual(Run.objects.get().meter, 2)

    def test_a_suns_page_asks_for_the_meter_only(self):
        page = self.client.get(reverse("exposures:lamp", args=[self.sun().pk]))
        self.assertContains(page, "Never twice the same")
        self.assertNotContains(page, "Keep the field map")


def nine(readings):
    """Readings as the grid sends them, row by row."""
    return {f"field_{k}": value for k, value in enumerate(readings.split())}


class LampPageTests(PageCase):
    def test_what_is_wrong_is_said_beside_its_field_and_stays(self):
        url = reverse("exposures:lamp", args=[self.lamp.pk])
        page = self.client.post(url, {"kind": "field"} | nine("1 2 3 4 5.5"))
        self.assertContains(page, "middle right, lower left, lower middle, lower right still to read", status_code=422)
        self.assertContains(page, 'name="field_4" value="5.5"', status_code=422)
        page = self.client.post(url, {"kind": "field"} | nine("1 2 3 4 bright 6 7 8 9"))
        self.assertContains(page, "Middle: “bright” is not a number", status_code=422)
        self.assertContains(
            self.client.post(url, {"kind": "hours", "hours": "many"}), "is not a number", status_code=422
        )
        self.assertFalse(LampRecord.objects.exists())
        self.client.post(url, {"kind": "field", "read_as": "steps"} | nine("6 7 6 7 7 7 6 7 6"))
        self.assertAlmostEqual(LampRecord.objects.get().field[0][1], 2**0.5, delta=0.01)

    def test_only_the_lead_enters_a_light_source(self):
        sent = {
            "name": "Tube table",
            "kind": "tubes",
            "geometry": "tubes",
            "contact": "blocking",
            "distance_mm": "5 cm",
            "warm_up_s": "60",
            "start_lag_s": "2",
        }
        self.client.post(reverse("exposures:add-lamp"), sent)
        self.assertFalse(Lamp.objects.filter(name="Tube table").exists())
        self.client.force_login(self.odile, backend="django.contrib.auth.backends.ModelBackend")
        page = self.client.post(reverse("exposures:add-lamp"), sent | {"start_lag_s": "-2"})
        self.assertContains(page, "Less than nothing cannot be", status_code=422)
        self.client.post(reverse("exposures:add-lamp"), sent)
        lamp = Lamp.objects.get(name="Tube table")
        self.assertEqual(lamp.distance_mm, 50)
        self.assertContains(self.client.get(reverse("exposures:lamp", args=[lamp.pk])), "Its glass holds back UV")
        page = self.client.post(reverse("exposures:add-lamp"), sent)
        self.assertContains(page, "Another light source is called Tube table", status_code=422)

    def test_the_press_reads_and_does_not_write(self):
        press = Person.objects.create_user("ines2", password="x", first_name="Ines", role="press")
        self.client.force_login(press, backend="django.contrib.auth.backends.ModelBackend")
        self.client.post(reverse("exposures:lamp", args=[self.lamp.pk]), {"kind": "hours", "hours": "10"})
        self.assertFalse(LampRecord.objects.exists())

    def test_the_simulated_meter_answers_in_figures(self):
        result = self.client.get(reverse("exposures:lamp-meter", args=[self.lamp.pk])).json()
        self.assertGreater(result["values"]["light_mw_cm2"], 0)
        field = [float(result["values"][f"field_{k}"]) for k in range(9)]
        # Source: cosine-fourth law: a small lamp's corners are darker than its middle.
        self.assertLess(field[0], field[4])


class PhotoPageTests(PageCase):
    def test_a_photo_of_a_test_that_was_not_exposed_is_refused(self):
        test = self.start_test().step_test
        sent = {"scale_bar_mm": "200", "dpi": "600", "wanted_um": "150", "photo": SimpleUploadedFile("a.jpg", b"x")}
        page = self.client.post(reverse("exposures:send-photo", args=[test.pk]), sent)
        self.assertContains(page, "This test is planned", status_code=422)
        self.assertFalse(StepPhoto.objects.exists())

    def test_a_heavy_file_is_refused_before_it_is_opened(self):
        reading = self.a_read_test()
        big = SimpleUploadedFile("a.jpg", b"\xff\xd8\xff" + bytes(41_000_000))
        sent = {"scale_bar_mm": "200", "dpi": "600", "wanted_um": "150", "photo": big}
        page = self.client.post(reverse("exposures:send-photo", args=[reading.step_test_id]), sent)
        self.assertContains(page, "41 MB; 40 MB at most", status_code=422)


class LedgerTests(PageCase):
    def doses(self):
        return [dose for _, dose in self.client.get(reverse("exposures:log")).context["rows"]]

    def test_dose_is_by_the_meter_before_the_light_and_the_bulb_that_gave_it(self):
        self.tap(self.start_test(), 0, 15, 30, 45, 60.3)
        self.assertEqual(self.doses(), [None])
        given = Exposure.objects.get()
        ago = {"by": self.tamsin, "lamp": self.lamp, "kind": "meter", "hours": 10}
        for light, minutes in ((9, 60), (8, 30), (7, -1)):
            at = given.event.at - timedelta(minutes=minutes)
            LampRecord.objects.create(**ago, light_mw_cm2=light, at=at)
        self.assertAlmostEqual(self.doses()[0], 8 * given.given_s)
        lamp_services.record(self.lamp, self.tamsin, kind="replaced")
        self.assertEqual(self.doses(), [None])


class NotYetTests(PageCase):
    def test_a_wet_screen_shows_its_time_and_no_way_to_the_timer(self):
        entry = chart_services.accept(self.a_read_test(), self.tamsin)
        self.coated("Q-015")
        url = reverse("exposures:expose", args=["Q-015"])
        page = self.client.get(url)
        self.assertContains(page, "Do not expose yet")
        self.assertContains(page, f'<div class="figure-large">{entry.time_s:.1f} s</div>')
        self.assertNotContains(page, "Go to the timer")
        self.dry("Q-015")
        self.assertContains(self.client.get(url), "Go to the timer")


class TestListTests(PageCase):
    def test_a_test_says_what_it_came_to_or_that_nobody_has_read_it(self):
        self.a_read_test()
        self.coated("Q-015")
        self.dry("Q-015")
        run = self.start_test(code="Q-015")
        self.tap(run, 0, *run.moves_s, run.total_s)
        page = self.client.get(reverse("exposures:tests"))
        self.assertContains(page, "read: <b>36.7 s</b>")
        self.assertContains(page, "not read yet")


class ChartPageTests(PageCase):
    def test_what_is_untested_is_predicted_apart_from_what_is_calibrated(self):
        chart_services.accept(self.a_read_test(), self.tamsin)
        other = Lamp.objects.create(name="Old Harbour", kind="metal_halide", distance_mm=1000)
        self.coated("Q-015")
        self.dry("Q-015")
        run = self.start_test(code="Q-015", lamp=other)
        self.tap(run, 0, *run.moves_s, run.total_s)
        page = self.client.get(reverse("exposures:chart"))
        self.assertContains(page, "In use, never tested")
        self.assertContains(page, "77-48 yellow, P1 S1, Saltern Dual, Old Harbour, Inkjet dye")
        self.assertContains(page, "Test this one first")
        self.assertEqual(len(page.context["untested"]), 1)
        # After one test the other film's time is still too wide to expose by.
        self.assertTrue(page.context["untested"][0].time.refused)
        self.assertContains(page, "test, beginning around")

    def test_a_new_bulb_marks_every_time_under_it(self):
        chart_services.accept(self.a_read_test(), self.tamsin)
        lamp_services.record(self.lamp, self.tamsin, kind="replaced")
        self.assertContains(self.client.get(reverse("exposures:chart")), "every time under it is to be tested again")
        self.assertContains(self.client.get(reverse("exposures:chart-print")), "test again")

    def test_the_wash_stands_with_the_test(self):
        reading = self.a_read_test()
        page = self.client.get(reverse("exposures:reading", args=[reading.step_test_id]))
        self.assertContains(page, "soak 40 s, rinse 90 s")
        self.assertEqual(StepTest.objects.count(), 1)


class ChangedLampTests(PageCase):
    """A lamp that was moved or changed makes its times stale wherever they are shown."""

    def setUp(self):
        super().setUp()
        self.entry = chart_services.accept(self.a_read_test(), self.odile, sure=True)

    def change(self, **fields):
        data = {name: getattr(self.lamp, name) for name in lamp_services.FIELDS} | fields
        lamp_services.save(Lamp.objects.get(pk=self.lamp.pk), data)

    def assertStaleEverywhere(self, words):
        self.assertContains(self.client.get(reverse("exposures:chart")), words)
        self.assertContains(self.client.get(reverse("exposures:chart-print")), "test again")
        self.assertContains(self.client.get("/"), "no longer gives the light of 1 calibrated time")

    def test_nothing_is_said_while_it_stands_as_it_stood(self):
        self.assertNotContains(self.client.get("/"), "no longer gives the light")
        self.change(name="Lantern of old")
        self.assertEqual(Lamp.objects.get().changed, "")

    def test_another_distance(self):
        self.change(distance_mm=600)
        self.assertStaleEverywhere("The lamp stood at 400 mm then and stands at 600 mm now")

    def test_another_glass(self):
        self.change(contact="blocking")
        self.assertStaleEverywhere("glass or plastic that holds back UV")
        self.assertIn("Lantern A was changed on", staleness.moved(ChartEntry.objects.get(), None, self.room)[0])

    def test_a_plan_compares_with_the_lamp_chosen_there(self):
        self.coated("Q-015")
        screen = self.screen("Q-015")
        MeshInstallation.objects.update(mesh=screen.mesh)
        url = reverse("exposures:steptest-plan", args=["Q-015"])
        other = Lamp.objects.create(name="Old Harbour", kind="metal_halide", distance_mm=1000)
        asked = {
            "lamp": self.lamp.pk,
            "film_process": self.film.pk,
            "guess_s": "20",
            "steps": 4,
            "series": "arithmetic",
        }
        same, differs = (self.client.get(url, asked | {"lamp": lamp.pk}) for lamp in (self.lamp, other))
        self.assertContains(same, "nothing differs")
        self.assertContains(differs, "only the lamp differs")
        self.change(distance_mm=600)
        self.assertContains(self.client.get(url, asked), "changed since")

    def test_a_guess_nobody_typed_follows_the_lamp_and_a_typed_one_stays(self):
        url = reverse("exposures:steptest-plan", args=["Q-014"])
        self.coated("Q-015")
        tubes = Lamp.objects.create(name="Table", kind="tubes", geometry="tubes", distance_mm=120)
        url = reverse("exposures:steptest-plan", args=["Q-015"])
        first = self.client.get(url, {"lamp": self.lamp.pk, "film_process": self.film.pk}).context
        asked = {"steps": 8, "series": "sqrt2", "lamp": tubes.pk, "film_process": self.film.pk}
        asked |= {"suggested": first["suggested"], "suggested_for": first["suggested_for"]}
        followed = self.client.get(url, asked | {"guess_s": first["suggested"]}).context["form"]["guess_s"].value()
        self.assertGreater(float(followed), 2 * float(first["suggested"]))
        kept = self.client.get(url, asked | {"guess_s": "33"}).context["form"]["guess_s"].value()
        self.assertEqual(kept, "33")


class UntestedLampTests(PageCase):
    def test_a_lamp_never_tested_begins_where_its_kind_usually_lies(self):
        starts = []
        for kind in ("led", "tubes", "bulb"):
            lamp = Lamp.objects.create(name=kind, kind=kind, geometry="panel", distance_mm=400)
            estimate, window = prediction.for_screen(self.screen(), lamp, self.film, self.room)
            self.assertIsNone(estimate.value)
            starts.append(window.middle_s.value)
            self.assertIn(f"Nothing was ever tested under {kind}", estimate.reason)
        # From memory: LEDs take seconds, tubes some minutes, household bulbs many.
        self.assertLess(3 * starts[0], starts[1])
        self.assertLess(3 * starts[1], starts[2])
