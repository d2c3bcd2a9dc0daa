import json
import uuid
from datetime import timedelta
from unittest.mock import patch

from django.utils import timezone

from frimble.coatings.coats.services import coat
from frimble.coatings.models import Batch, Emulsion
from frimble.core.coating.drying import Air
from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.core.exposure.steptest.plan import plan_moving_card
from frimble.core.exposure.steptest.reading import StepGrade
from frimble.core.settings import HouseSettings
from frimble.exposures.chart import prediction
from frimble.exposures.chart import queries as chart_queries
from frimble.exposures.chart import services as chart_services
from frimble.exposures.models import ChartEntry, Exposure, Lamp, Run, StepTest, Tap
from frimble.exposures.room import LightRoom
from frimble.exposures.steptests.plan import services as plan_services
from frimble.exposures.steptests.reading import services as reading_services
from frimble.exposures.timer import services as timer_services
from frimble.films.models import Film, FilmProcess
from frimble.jobs.models import Job
from frimble.people import settings as house_settings
from frimble.screens.blemishes.services import note_blemish
from frimble.screens.models import Screen, ScreenEvent
from frimble.screens.steps.services import degrease, record_mesh_dry
from frimble.stencils.washing import services as stencil_services
from frimble.testing.case import PageCase
from frimble.testing.records import record
from frimble.testing.shop import small_shop


class LampCase(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.tamsin, self.odile = self.people["tamsin"], self.people["odile"]
        self.lamp, self.film = Lamp.objects.get(), FilmProcess.objects.get()
        self.coated("Q-014")

    @property
    def room(self):
        """The light room as a page would read it now."""
        return LightRoom(HouseSettings())

    def coated(self, code):
        degrease(code, self.tamsin, dwell_s=30)
        record_mesh_dry(code, self.tamsin)
        coat(code, self.tamsin, formula="P1 S1", batch=Batch.objects.get(), air=Air(34, 0.4))

    def screen(self, code="Q-014"):
        return Screen.objects.for_lists().get(frame__code=code)

    def start_test(self, guess=30, steps=4, code="Q-014", **named):
        plan = plan_moving_card(guess, steps, "arithmetic", HouseSettings(), lag_s=self.lamp.start_lag_s)
        given = {"lamp": self.lamp, "film_process": self.film, "length_mm": 240, "revision": None} | named
        return plan_services.start_test(code, self.odile, plan, override_reason="test", **given)

    def tap(self, run, *moments, kinds=None):
        """Taps so many seconds after the run was made; first on, then moves, last off."""
        kinds = kinds or ["start", *["move"] * (len(moments) - 2), "stop"]
        Run.objects.filter(pk=run.pk).update(made_at=timezone.now() - timedelta(seconds=max(moments) + 1))
        run.refresh_from_db()
        taps = [(uuid.uuid4(), k, run.made_at + timedelta(seconds=s)) for k, s in zip(kinds, moments, strict=True)]
        return timer_services.take_taps(run.pk, taps)

    def a_read_test(self, code="Q-014", grades=("over", "good", "good", "short")):
        """A test that was run to plan, washed and read."""
        run = self.start_test(code=code)
        moves = run.moves_s
        self.tap(run, 0, *moves, run.total_s)
        stencil_services.wash(code, self.tamsin, soak_s=40, rinse_s=90)
        test = run.step_test
        test.refresh_from_db()
        steps = [StepGrade(n, t, g) for n, (t, g) in enumerate(zip(test.times_s, grades, strict=True), start=1)]
        return reading_services.read_test(test, steps, "middle", 150, self.tamsin)


class RunTests(LampCase):
    def test_the_strips_get_what_the_taps_gave(self):
        run = self.start_test()
        self.tap(run, 10, 26, 41, 57.5, 72)
        test = StepTest.objects.get()
        # Lamp on at 10 s, moves 16, 31 and 47.5 s later, off at 62; the lamp's lag of 0.3 s gives no light.
        self.assertEqual(test.real_times_s, [61.7, 47.2, 30.7, 15.7])
        self.assertEqual(self.screen().state, "exposed")
        self.assertTrue(self.screen().is_test)
        self.assertAlmostEqual(Exposure.objects.get().given_s, 61.7)

    def test_taps_sent_twice_are_stored_once(self):
        run = self.start_test()
        sent = [(uuid.uuid4(), "start", timezone.now())]
        timer_services.take_taps(run.pk, sent)
        timer_services.take_taps(run.pk, sent)
        self.assertEqual(Tap.objects.count(), 1)

    def test_taps_that_do_not_fit_are_refused_whole(self):
        run = self.start_test()
        now = timezone.now()
        for taps in (
            [("move", now)],
            [("start", now), ("start", now)],
            [("start", now + timedelta(hours=1))],
            [("start", now - timedelta(hours=1))],
        ):
            with self.subTest(taps), self.assertRaises(InvalidInput):
                timer_services.take_taps(run.pk, [(uuid.uuid4(), kind, at) for kind, at in taps])
        self.assertFalse(Tap.objects.exists())

    def test_lamp_off_before_the_last_move_spoils_the_test_but_the_light_is_recorded(self):
        run = self.start_test()
        self.tap(run, 0, 15, 30)
        test = StepTest.objects.get()
        self.assertEqual(test.status, "spoiled")
        self.assertIn("of 2 strips only the light is sure", Run.objects.get().trouble)
        self.assertEqual(self.screen().state, "exposed")
        with self.assertRaises(RuleViolation):
            reading_services.read_test(test, [], "middle", 150, self.tamsin)

    def test_a_forgotten_tap_leaves_the_other_strips_readable(self):
        # By hand: 4 steps about 30 s cover at 15.3, 30.3 and 45.3 s; the tap at 30 s was forgotten.
        run = self.start_test()
        self.tap(run, 0, 15.3, 45.3, 60.3)
        test = StepTest.objects.get()
        self.assertEqual((test.status, test.real_times_s), ("exposed", [60.0, 45.0, None, 15.0]))
        self.assertIn("the light of strip 3 is not sure. Read the others.", Run.objects.get().trouble)
        stencil_services.wash("Q-014", self.tamsin, soak_s=40, rinse_s=90)
        self.client.force_login(self.tamsin)
        page = self.client.get(f"/expose/tests/{test.pk}/")
        self.assertContains(page, "Grade of strip 4")
        self.assertNotContains(page, "Grade of strip 3")
        sent = {
            "school": "middle",
            "wanted_opening_um": "150",
            "grade_1": "over",
            "grade_2": "good",
            "grade_4": "short",
        }
        self.assertEqual(self.client.post(f"/expose/tests/{test.pk}/", sent).status_code, 302)
        self.assertContains(self.client.get(f"/expose/tests/{test.pk}/"), "not sure")

    def test_a_lamp_that_was_off_before_it_had_started_gave_no_light(self):
        run = self.tap(self.start_test(), 0, 0.2, kinds=["start", "stop"])
        self.assertEqual(run.status, "abandoned")
        self.assertIn("after 0.2 s; this lamp takes 0.3 s to start: it gave no light", run.trouble)
        self.assertFalse(Exposure.objects.exists())
        self.assertEqual(self.screen().state, "coated")
        again = self.start_test()
        self.assertEqual(self.tap(again, 0, 15, 30, 45, 60).status, "done")

    def test_one_timer_for_one_screen(self):
        self.start_test()
        with self.assertRaises(RuleViolation) as caught:
            self.start_test()
        self.assertIn("Odile has the timer open for Q-014", caught.exception.reason)
        self.assertEqual(StepTest.objects.count(), 1)

    def test_light_given_on_a_screen_that_moved_on_stays_visible(self):
        run = self.start_test()
        record("Q-014", "reclaim", self.tamsin, summary="reclaimed by mistake", facts={"outcome": "clean"})
        run = self.tap(run, 0, 15, 30, 45, 60)
        self.assertEqual(run.status, "done")
        self.assertIn("not recorded on the screen", run.trouble)
        self.assertEqual(Tap.objects.count(), 5)
        self.assertFalse(Exposure.objects.exists())

    def test_a_technician_cannot_expose_a_wet_coat(self):
        plan = plan_moving_card(30, 4, "arithmetic", HouseSettings())
        with self.assertRaises(RuleViolation) as caught:
            plan_services.start_test(
                "Q-014", self.tamsin, plan, lamp=self.lamp, film_process=self.film, length_mm=240, revision=None
            )
        self.assertIn("Do not expose yet", caught.exception.reason)
        self.assertFalse(Run.objects.exists())


class StoppedTests(LampCase):
    """Light that would be lost on this screen is not given."""

    def start(self, person=None, **more):
        given = {"lamp": self.lamp, "film_process": self.film, "time_s": 30, "entry": None, "why": "", "revision": None}
        with patch.object(timer_services.ledger, "check_step"):
            return timer_services.start_exposure("Q-014", person or self.tamsin, **given | more)

    def mark(self, kind="ghost", x_mm=240):
        note_blemish(self.screen(), self.tamsin, kind=kind, x_mm=x_mm, y_mm=380, width_mm=30, height_mm=30)

    def lying(self, x_mm, **fields):
        given = {"name": "Flag", "made_at": timezone.now(), "made_by": self.tamsin, "width_mm": 100, "height_mm": 100}
        return Film.objects.create(**given, centre_x_mm=x_mm, centre_y_mm=0, **fields)

    def assertStopped(self, words, **more):
        with self.assertRaises(RuleViolation) as stopped:
            self.start(**more)
        self.assertIn(words, stopped.exception.reason)
        self.assertFalse(Run.objects.exists())

    def test_a_ghost_under_the_image_stops_it_until_the_lead_says_why_not(self):
        self.mark()
        # The middle of this frame is 290, 395: an image there lies on the ghost, one 150 mm to the right does not.
        self.assertStopped("Flag would lie on a ghost image that prints", film=self.lying(0))
        self.assertTrue(self.start(film=self.lying(150)).pk)

    def test_the_lead_may_go_on_and_the_reason_is_kept(self):
        self.mark("hole")
        run = self.start(self.odile, film=self.lying(0), override_reason="it is taped")
        self.assertEqual(run.override_reason, "it is taped")

    def test_where_no_place_is_known_somebody_looks(self):
        self.mark()
        self.assertStopped("where the film will lie is not on record")
        self.assertTrue(self.start(keeps_off=True).pk)

    def test_haze_alone_asks_nothing(self):
        self.mark("haze")
        self.assertTrue(self.start().pk)

    def test_an_emulsion_that_does_not_stand_the_films_ink(self):
        Emulsion.objects.update(resists="solvent")
        self.assertStopped("does not stand water-based ink", film=self.lying(0, ink="water"))
        self.assertTrue(self.start(film=self.lying(0, ink="solvent")).pk)

    def test_the_page_shows_the_marks_and_keeps_what_was_typed(self):
        self.mark()
        Screen.objects.update(wet_until=timezone.now() - timedelta(minutes=1))
        self.client.force_login(self.tamsin)
        page = self.client.get("/expose/Q-014/")
        self.assertContains(page, "Ghost image that prints at 240, 380 mm")
        self.assertContains(page, "keeps off the marks")


class CalibrationTests(LampCase):
    def test_a_time_far_from_what_is_predicted_is_accepted_only_when_somebody_is_sure(self):
        reading = self.a_read_test()
        with patch("frimble.exposures.chart.prediction.far_off", return_value="21 s lies far from 80 s.") as far_off:
            self.client.force_login(self.tamsin, backend="django.contrib.auth.backends.ModelBackend")
            page = self.client.get(f"/expose/tests/{reading.step_test_id}/")
            self.assertContains(page, "21 s lies far from 80 s.")
            self.assertContains(page, "It is right: I looked again")
            self.client.post(f"/expose/readings/{reading.pk}/accept/")
            self.assertFalse(ChartEntry.objects.exists())
            self.client.post(f"/expose/readings/{reading.pk}/accept/", {"sure": "on"})
        self.assertTrue(far_off.called)
        self.assertTrue(ChartEntry.objects.exists())

    def test_the_chart_learns_from_what_is_in_force_and_bracketed_alone(self):
        reading = self.a_read_test()
        chart_services.accept(reading, self.tamsin)
        steps = [s.as_core() for s in reading.steps.all()]
        again = reading_services.read_test(reading.step_test, steps, "cure", 150, self.tamsin)
        chart_services.accept(again, self.tamsin)
        self.assertEqual(ChartEntry.objects.count(), 2)
        self.assertEqual(prediction.learned(house_settings.current()).tests, 1)
        ChartEntry._base_manager.update(bracketed=False)
        prediction.invalidate()
        self.assertEqual(prediction.learned(house_settings.current()).tests, 0)

    def test_an_accepted_time_serves_the_next_screen_and_no_other_conditions(self):
        self.coated("Q-015")
        before, _ = chart_queries.time_for(self.screen("Q-015"), self.lamp, self.film)
        self.assertTrue(before.refused)
        reading = self.a_read_test()
        entry = chart_services.accept(reading, self.tamsin)
        time, result = chart_queries.time_for(self.screen("Q-015"), self.lamp, self.film)
        # Common practice, no source. The geometric middle of the good steps, 45 and 30 s.
        self.assertAlmostEqual(time.value, (45 * 30) ** 0.5, places=2)
        self.assertEqual(result, entry)
        other = FilmProcess.objects.create(name="Oiled sheet")
        self.assertTrue(chart_queries.time_for(self.screen("Q-015"), self.lamp, other)[0].refused)

    def test_another_batch_or_an_old_one_shows_on_the_chart(self):
        # Common practice, no source. A new batch or an aged one moves the exposure.
        chart_services.accept(self.a_read_test(), self.tamsin)
        entries, now, room = chart_queries.entries_in_force(), timezone.now(), LightRoom(HouseSettings())
        self.assertEqual(chart_queries.emulsion_moved(entries, now, room), {})
        aged = chart_queries.emulsion_moved(entries, now + timedelta(days=35), room)[entries[0].pk]
        self.assertEqual(aged[0], "recalibrate")
        batch = Batch.objects.get()
        Batch.objects.create(code="SD-09", emulsion=batch.emulsion, mixed_at=now, mixed_by=self.tamsin)
        answer = chart_queries.emulsion_moved(entries, now, room)[entries[0].pk]
        self.assertEqual(answer[0], "check again")
        self.assertIn("Found with SD-08; SD-09 is in use now", answer[1])

    def test_a_reading_is_accepted_once_and_only_the_newest(self):
        first = self.a_read_test()
        second = reading_services.read_test(
            first.step_test, [StepGrade(s.strip, s.time_s, s.grade) for s in first.steps.all()], "cure", 150, self.odile
        )
        with self.assertRaises(RuleViolation):
            chart_services.accept(first, self.tamsin)
        chart_services.accept(second, self.tamsin)
        with self.assertRaises(RuleViolation):
            chart_services.accept(second, self.tamsin)
        self.assertEqual(ChartEntry.objects.get().time_s, 45)

    def test_a_new_time_is_held_against_the_one_before_it_also_when_accepted(self):
        first = chart_services.accept(self.a_read_test(), self.tamsin)
        self.coated("Q-015")
        reading = self.a_read_test("Q-015", grades=("good", "good", "short", "under"))
        self.assertEqual(chart_queries.previous_entry(reading.step_test, None), first)
        entry = chart_services.accept(reading, self.odile)
        self.assertEqual(chart_queries.previous_entry(reading.step_test, entry), first)
        self.assertIsNone(chart_queries.previous_entry(first.reading.step_test, first))
        self.assertEqual(chart_queries.entries_in_force(), [entry])

    def test_a_time_that_is_not_bracketed_is_for_the_lead(self):
        reading = self.a_read_test(grades=("good", "good", "short", "under"))
        with self.assertRaises(RuleViolation) as caught:
            chart_services.accept(reading, self.tamsin)
        self.assertIn("Only the lead", caught.exception.reason)
        self.assertFalse(chart_services.accept(reading, self.odile).bracketed)
        self.coated("Q-015")
        time, _ = chart_queries.time_for(self.screen("Q-015"), self.lamp, self.film)
        self.assertIn("did not bracket", time.reason)

    def test_a_useless_reading_is_kept_but_not_accepted(self):
        reading = self.a_read_test(grades=("under",) * 4)
        self.assertEqual((reading.outcome, reading.recommended_s), ("all under", None))
        with self.assertRaises(RuleViolation):
            chart_services.accept(reading, self.odile)

    def test_an_unwashed_test_is_not_read(self):
        run = self.start_test()
        self.tap(run, 0, 15, 30, 45, 60)
        with self.assertRaises(RuleViolation) as caught:
            reading_services.read_test(StepTest.objects.get(), [], "middle", 150, self.tamsin)
        self.assertIn("Wash Q-014 out first", caught.exception.reason)


class WithdrawnTests(LampCase):
    """A wrong time is taken out by the lead: what it replaced holds again, and nothing is learned from it."""

    def setUp(self):
        super().setUp()
        self.first = chart_services.accept(self.a_read_test(), self.odile, sure=True)

    def withdraw(self, person=None, reason="the card had slipped"):
        self.client.force_login(person or self.odile)
        return self.client.post(f"/expose/chart/{self.first.pk}/withdraw/", {"reason": reason})

    def test_it_counts_no_more_and_stays_on_record(self):
        learned = prediction.learned(house_settings.current()).tests
        self.assertEqual(learned, 1)
        self.assertRedirects(self.withdraw(), "/expose/chart/")
        self.assertEqual(chart_queries.entries_in_force(), [])
        self.assertEqual(prediction.learned(house_settings.current()).tests, 0)
        self.assertContains(self.client.get("/expose/chart/"), "the card had slipped")
        self.assertTrue(ChartEntry.objects.filter(pk=self.first.pk).exists())

    def test_what_it_replaced_holds_again(self):
        fields = {
            f.name: getattr(self.first, f.name) for f in ChartEntry._meta.fields if f.name not in ("id", "reading")
        }
        before = fields | {"accepted_at": self.first.accepted_at - timedelta(days=3), "time_s": 44.0}
        test = self.first.reading.step_test
        steps = [StepGrade(n, t, "good") for n, t in enumerate(test.times_s, start=1)]
        older = ChartEntry.objects.create(
            **before, reading=reading_services.read_test(test, steps, "middle", 150, self.odile)
        )
        self.assertContains(self.client_of(self.odile).get(f"/expose/chart/{self.first.pk}/withdraw/"), "44 s of")
        self.withdraw()
        self.assertEqual(chart_queries.entries_in_force(), [older])

    def client_of(self, person):
        self.client.force_login(person)
        return self.client

    def test_only_the_lead_with_a_reason_and_once(self):
        self.assertEqual(self.withdraw(self.tamsin).status_code, 403)
        self.assertContains(self.withdraw(reason="  "), "This field is required", status_code=422)
        self.withdraw()
        self.assertContains(self.withdraw(), "was withdrawn before", status_code=422)


class ExposurePageTests(LampCase):
    def setUp(self):
        super().setUp()
        self.as_(self.odile)

    def as_(self, person):
        self.client.force_login(person, backend="django.contrib.auth.backends.ModelBackend")

    def plan(self, **changed):
        typed = {"guess_s": "22", "steps": "8", "series": "sqrt2", "card": "cover", "length_mm": "240"}
        return self.client.get("/expose/Q-014/test/", typed | changed)

    def test_the_plan_is_drawn_and_bad_values_are_said_beside_their_fields(self):
        self.assertContains(self.plan(), "7 card moves")
        for changed, words in (
            ({"guess_s": "-4"}, "must be more than 0"),
            ({"guess_s": "soon"}, "“soon” is not a time"),
            ({"guess_s": ""}, "Type a number"),
            ({"steps": "2.5"}, "A whole number of steps"),
            ({"steps": "2"}, "between 3 and 21"),
            ({"length_mm": "40"}, "at least 12 mm"),
        ):
            with self.subTest(changed):
                response = self.plan(**changed)
                self.assertContains(response, words, status_code=422)
                self.assertNotContains(response, "card moves,", status_code=422)

    def test_hurried_moves_offer_a_slower_series_to_take_at_once(self):
        response = self.plan(guess_s="12", series="4thrt2")
        self.assertContains(response, "a hand needs 2 s", status_code=422)
        self.assertContains(response, "Take equal seconds, 8 steps", status_code=422)

    def test_a_time_of_ones_own_wants_a_reason_and_the_dry_tick(self):
        typed = {
            "lamp": self.lamp.pk,
            "film_process": self.film.pk,
            "revision": self.screen().revision,
            "own_time_s": "20",
        }
        response = self.client.post("/expose/Q-014/", typed)
        self.assertContains(response, "this time is not calibrated", status_code=422)
        self.assertContains(response, "wet inside looks dry outside", status_code=422)
        self.assertContains(response, 'value="20"', status_code=422)
        self.assertFalse(Run.objects.exists())
        typed |= {"dry": "on", "own_reason": "old habit"}
        self.assertContains(self.client.post("/expose/Q-014/", typed), "Do not expose yet", status_code=422)
        done = self.client.post("/expose/Q-014/", typed | {"override_reason": "weighed twice"})
        self.assertEqual(done.status_code, 302)
        self.assertIn("Not calibrated: old habit", Run.objects.get().why)

    def test_a_film_remembers_the_screens_it_was_used_on(self):
        film = Film.objects.create(name="Pennant", process=self.film, made_at=timezone.now(), made_by=self.tamsin)
        self.client.force_login(self.odile)
        typed = {
            "lamp": self.lamp.pk,
            "film_process": self.film.pk,
            "revision": self.screen().revision,
            "own_time_s": "20",
            "own_reason": "old habit",
            "dry": "on",
            "override_reason": "weighed",
            "film": film.pk,
        }
        self.assertEqual(self.client.post("/expose/Q-014/", typed).status_code, 302)
        self.tap(Run.objects.get(), 0, 20)
        self.assertEqual(Exposure.objects.get().film, film)
        self.assertContains(self.client.get(f"/film/films/{film.pk}/"), "Q-014")

    def test_the_film_of_the_colour_it_is_held_for_is_offered_first_and_chosen(self):
        # Common practice, no source.
        made = {"made_by": self.tamsin, "made_at": timezone.now()}
        old = Film.objects.create(name="Old pennant", **made)
        Film.objects.bulk_create(Film(name=f"Newer {k}", **made) for k in range(120))
        screen = self.screen()
        self.client.force_login(self.odile)
        answer = self.client.get("/expose/Q-014/")
        self.assertNotContains(answer, "Old pennant")
        self.assertContains(answer, "Newer 119")
        needs = Job.objects.get(number="J-301").needs
        needs.create(mesh=screen.mesh, formula="P1 S1", frame=screen.frame, film=old)
        shown = self.client.get("/expose/Q-014/").context["form"]
        self.assertEqual(shown["film"].value(), old.pk)
        self.assertEqual(shown.fields["film"].records[0], old)
        needs.create(mesh=screen.mesh, formula="P1 S1", frame=screen.frame, film=Film.objects.get(name="Newer 3"))
        self.assertIsNone(self.client.get("/expose/Q-014/").context["form"]["film"].value())

    def test_unreadable_taps_answer_400_and_misfit_taps_422(self):
        run = self.start_test()
        url = f"/expose/run/{run.pk}/taps/"
        for body in ("", "{}", "[]", '{"taps": [{"uid": "x", "kind": "start", "at": 1}]}', '{"taps": 5}'):
            with self.subTest(body):
                self.assertEqual(self.client.post(url, body, content_type="application/json").status_code, 400)
        sent = {"taps": [{"uid": str(uuid.uuid4()), "kind": "start", "at": 1e30}]}
        response = self.client.post(url, json.dumps(sent), content_type="application/json")
        self.assertEqual(response.status_code, 422)
        self.assertFalse(Tap.objects.exists())

    def test_grades_left_out_are_asked_and_the_rest_is_kept(self):
        reading = self.a_read_test()
        url = f"/expose/tests/{reading.step_test_id}/"
        typed = {
            "school": "middle",
            "wanted_opening_um": "150",
            "grade_1": "over",
            "opening_2": "9e9",
            "grade_2": "good",
        }
        response = self.client.post(url, typed)
        self.assertContains(response, "Grade this strip.", status_code=422)
        self.assertContains(response, 'value="9e9"', status_code=422)
        self.assertEqual(reading.step_test.readings.count(), 1)

    def test_the_passport_tells_the_whole_test(self):
        reading = self.a_read_test()
        chart_services.accept(reading, self.tamsin)
        kinds = list(ScreenEvent.objects.values_list("kind", flat=True))
        self.assertEqual(kinds[-3:], ["expose", "wash", "read_test"])
        page = self.client.get("/screens/Q-014/")
        self.assertContains(page, "read: 36.7 s")
        self.assertContains(page, "Went on regardless: test")
