"""What is tested in one table, two tests and two steps against each other, the wash of a test, the film before the time."""

import io
from datetime import timedelta
from unittest import mock

from django.core.files.base import ContentFile
from django.db import connection
from django.test import override_settings
from django.test.utils import CaptureQueriesContext
from django.urls import reverse
from django.utils import timezone
from PIL import Image

from frimble.core.conclusions import InvalidInput
from frimble.core.exposure.photo import concluding
from frimble.exposures import room as light_room
from frimble.exposures.chart import queries as chart_queries
from frimble.exposures.chart import services as chart_services
from frimble.exposures.chart.coverage import coverage
from frimble.exposures.chart.lines import ChartLine
from frimble.exposures.lamps import services as lamp_services
from frimble.exposures.models import ControlStrip, Exposure, Lamp, LampRecord, StepPhoto, StepTest, TestComparison
from frimble.exposures.steptests import wash as wash_protocol
from frimble.exposures.steptests.comparison import queries as comparison_queries
from frimble.exposures.steptests.photo import queries as photo_queries
from frimble.exposures.tests.test_light_pages import PageCase
from frimble.exposures.timer import services as timer_services
from frimble.films.models import DensityReading, FilmProcess
from frimble.people.models import Person
from frimble.screens.models import Screen
from frimble.stencils.washing import services as stencil_services


class CoverageTests(PageCase):
    def test_a_calibrated_time_and_what_moved_it_stand_in_the_table(self):
        entry = chart_services.accept(self.a_read_test(), self.tamsin)
        line = ChartLine(entry, 3, False, None, [])
        holds = coverage([line], ["?page=1"], (), None)
        self.assertEqual((holds.holding, holds.moved, holds.untested), (1, 0, 0))
        cell = holds.rows[0][-1][0]
        self.assertEqual((cell.look, cell.at, cell.words), ("tested", f"?page=1#time-{entry.pk}", "calibrated"))
        again = coverage([ChartLine(entry, 400, True, None, [])], ["?page=1"], (), None)
        self.assertEqual((again.moved, again.rows[0][-1][0].words), (1, "400 days old: test again"))
        page = self.client.get(reverse("exposures:chart"))
        self.assertContains(page, "<b>1</b> of these holds")
        self.assertContains(page, f'href="?page=1#time-{entry.pk}"')
        of_mesh = self.client.get(reverse("exposures:chart"), {"mesh": entry.mesh_id})
        self.assertContains(of_mesh, f'href="?mesh={entry.mesh_id}&amp;page=1#time-{entry.pk}"')
        lamp_services.record(self.lamp, self.tamsin, kind="replaced")
        self.assertContains(self.client.get(reverse("exposures:chart")), "<b>1</b> wants another test")

    def test_a_film_in_use_but_never_tested_is_predicted_and_marked_as_such(self):
        chart_services.accept(self.a_read_test(), self.tamsin)
        other = FilmProcess.objects.create(name="Oiled sheet")
        self.coated("Q-015")
        plan = {"lamp": self.lamp, "film_process": other, "time_s": 30, "entry": None, "why": "trial", "revision": None}
        Screen.objects.filter(frame__code="Q-015").update(wet_until=timezone.now() - timedelta(minutes=1))
        run = timer_services.start_exposure("Q-015", self.tamsin, **plan)
        self.tap(run, 0, run.total_s)
        page = self.client.get(reverse("exposures:chart"))
        self.assertContains(page, "never tested, predicted")
        self.assertContains(page, "<b>1</b> was never tested")


class TrialTests(PageCase):
    def setUp(self):
        super().setUp()
        self.one = self.a_read_test().step_test
        self.coated("Q-015")
        self.other = self.a_read_test("Q-015", ("good", "good", "short", "short")).step_test
        self.url = reverse("exposures:compare")

    def test_two_tests_of_the_same_are_a_repeat(self):
        result = comparison_queries.compare(self.one, self.other)
        self.assertEqual(result.differ, ())
        self.assertEqual(result.factor.verdict, "a repeat")
        with self.assertRaises(InvalidInput):
            comparison_queries.compare(self.one, self.one)

    def test_only_the_film_differs_and_is_named(self):
        StepTest.objects.filter(pk=self.other.pk).update(film_process=FilmProcess.objects.create(name="Oiled sheet"))
        page = self.client.get(self.url, {"one": self.one.pk, "other": self.other.pk})
        self.assertContains(page, "Only the film process differs")
        self.assertContains(page, "Oiled sheet")

    def test_a_trial_is_kept_with_its_question_and_never_without(self):
        asked = {"one": self.one.pk, "other": self.other.pk, "question": " "}
        refused = self.client.post(self.url, asked)
        self.assertContains(refused, "Say in a few words", status_code=422)
        self.assertContains(refused, "What differs", status_code=422)
        self.client.post(self.url, asked | {"question": "Does the new coat repeat?"})
        kept = TestComparison.objects.get()
        self.assertEqual((kept.question, kept.verdict), ("Does the new coat repeat?", "a repeat"))
        self.assertContains(self.client.get(reverse("exposures:tests")), "Does the new coat repeat?")
        with self.assertRaises(TypeError):
            kept.delete()

    def test_an_old_test_that_is_named_is_offered_beside_the_newest(self):
        old, new = self.one, self.other
        with mock.patch("frimble.exposures.steptests.comparison.queries._OFFERED", 1):
            self.assertEqual(comparison_queries.comparable(), [new])
            self.assertEqual(comparison_queries.comparable(["", "x", str(old.pk), str(new.pk)]), [new, old])
            page = self.client.get(self.url, {"one": old.pk, "other": new.pk})
            self.assertEqual(page.context["found"].one.name, str(old))

    def test_the_same_test_twice_is_refused_in_words(self):
        page = self.client.get(self.url, {"one": self.one.pk, "other": self.one.pk})
        self.assertContains(page, "Choose two different tests.", status_code=422)


class WashTests(PageCase):
    def test_a_test_is_washed_as_its_last_fellow_and_a_longer_rinse_is_told(self):
        # Common practice, no source. More washing moves the reading.
        run = self.start_test()
        test = run.step_test
        self.assertEqual((test.soak_s, test.rinse_s), (40, 90))
        self.tap(run, 0, *run.moves_s, run.total_s)
        self.assertEqual(wash_protocol.waiting_test(self.screen()), test)
        page = self.client.get(reverse("stencils:wash", args=["Q-014"]))
        self.assertContains(page, 'value="90"')
        stencil_services.wash("Q-014", self.tamsin, soak_s=40, rinse_s=200)
        said = wash_protocol.kept(test, wash_protocol.washes_of(test))
        self.assertIn("rinsed 3 min 20 s and not 90 s", said)
        self.assertIn("full cure reads late", said)
        self.assertContains(self.client.get(reverse("exposures:reading", args=[test.pk])), "full cure reads late")

    def test_a_kept_wash_says_nothing(self):
        test = self.a_read_test().step_test
        self.assertEqual(wash_protocol.kept(test, wash_protocol.washes_of(test)), "")


class FilmFirstTests(PageCase):
    def test_before_a_shorter_time_the_film_is_asked_for(self):
        # Common practice, no source. A film that leaks looks like too much light.
        reading = self.a_read_test(grades=("over", "over", "over", "closing"))
        result = chart_queries.conclude(reading)
        ask = lambda film: chart_queries.film_before_shorter(film, result, None)  # noqa: E731
        url = reverse("exposures:reading", args=[reading.step_test.pk])
        self.assertContains(self.client.get(url), "it is not the film that leaks")
        other = FilmProcess.objects.create(name="Oiled sheet")
        self.assertIn("never measured", ask(other))
        given = {"process": other, "band": "uv", "dmin": 0.05, "at": timezone.now(), "by": self.tamsin}
        DensityReading.objects.create(**given, dmax=1.2, route="densitometer")
        self.assertIn("mend the film before the time", ask(other))

    def test_a_longer_time_asks_nothing(self):
        result = chart_queries.conclude(self.a_read_test())
        self.assertEqual(chart_queries.film_before_shorter(self.film, result, 10.0), "")


@override_settings(CACHES={"default": {"BACKEND": "django.core.cache.backends.locmem.LocMemCache", "LOCATION": "room"}})
class KeptTests(PageCase):
    """What the light room keeps for a minute is read anew as soon as something is written."""

    def setUp(self):
        super().setUp()
        light_room.invalidate()
        self.addCleanup(light_room.invalidate)
        self.lead = Person.objects.create_user("orla", role="lead")

    def test_a_lamp_a_film_a_strip_and_a_run_are_seen_at_once(self):
        self.assertIsNone(self.room.hours(self.lamp))
        lamp_services.record(self.lamp, self.tamsin, kind="hours", hours=100)
        self.assertAlmostEqual(self.room.hours(self.lamp), 100, places=3)
        self.assertAlmostEqual(self.room.dmin(self.film), 0.06, delta=0.05)
        DensityReading.objects.create(
            process=self.film, band="uv", dmax=3, dmin=0.14, route="densitometer", at=timezone.now(), by=self.tamsin
        )
        self.assertEqual(self.room.dmin(self.film), 0.14)
        test = self.a_read_test().step_test
        self.assertEqual(self.room.strips(self.lamp.pk, test.emulsion_id), [])
        ControlStrip.objects.create(
            exposure=Exposure.objects.get(),
            lamp=self.lamp,
            emulsion=test.emulsion,
            step=6.5,
            by=self.tamsin,
            at=timezone.now(),
        )
        self.assertEqual([s.step for s in self.room.strips(self.lamp.pk, test.emulsion_id)], [6.5])

    def test_the_chart_in_force_is_kept_until_what_it_says_changes(self):
        entry = chart_services.accept(self.a_read_test(), self.tamsin)
        self.assertEqual([e.pk for e in chart_queries.entries_in_force()], [entry.pk])
        with self.assertNumQueries(1):
            self.assertEqual(chart_queries.entries_in_force(lamp=self.lamp)[0].lamp.name, self.lamp.name)
        self.lamp.name = "Lantern B"
        self.lamp.save()
        self.assertEqual(chart_queries.entries_in_force()[0].lamp.name, "Lantern B")
        other = Lamp.objects.create(name="Other", kind="led", distance_mm=500)
        self.assertEqual(chart_queries.entries_in_force(lamp=other), [])
        chart_services.withdraw(entry, self.lead, "the glass was dirty")
        self.assertEqual(chart_queries.entries_in_force(), [])

    def test_a_page_that_was_just_shown_asks_for_less(self):
        chart_services.accept(self.a_read_test(), self.tamsin)
        self.coated("Q-015")
        url = reverse("exposures:expose", args=["Q-015"])
        self.client.get(url)
        with CaptureQueriesContext(connection) as asked:
            self.client.get(url)
        self.assertLessEqual(len(asked), 15)


class LampHoursTests(PageCase):
    def test_the_lamp_says_when_its_times_want_another_test(self):
        now = timezone.now()
        for hours, days in ((960, 20), (1000, 0)):
            LampRecord.objects.create(
                lamp=self.lamp, kind="hours", hours=hours, at=now - timedelta(days=days), by=self.tamsin
            )
        chart_services.accept(self.a_read_test(), self.tamsin)
        page = self.client.get(reverse("exposures:lamp", args=[self.lamp.pk]))
        # By hand: 40 h in 20 days are 2 a day; 200 h hold, so in 100 days.
        self.assertContains(page, "At 2.0 h a day that is in some 100 days.")


class OtherWaysTests(PageCase):
    def test_a_thermal_screen_skips_all_this(self):
        page = self.client.get(reverse("exposures:expose", args=["Q-063"]))
        self.assertContains(page, "A thermal-film screen skips all this")

    def test_without_a_time_the_other_ways_are_told_with_what_they_cost(self):
        self.sun()
        page = self.client.get(reverse("exposures:expose", args=["Q-014"]))
        self.assertContains(page, "the mesh is cut out and thrown away after it")
        self.assertContains(page, "Never twice the same")


class PairTests(PageCase):
    """Two steps beside each other, on a stored reading that no photo had to be taken for."""

    def setUp(self):
        super().setUp()
        test = self.a_read_test().step_test
        seen = zip(test.times_s, ("over", "closing", "good", "short"), (0.2, 0.6, 0.9, 1), strict=True)
        steps = [
            concluding.PhotoStep(k + 1, t, v, 0.5, 1.0, 0.0, 127.0, 85.0, (s,) * 7, (1.1,) * 5, (s / 10, 0.9))
            for k, (t, v, s) in enumerate(seen)
        ]
        result = concluding.PhotoReading(
            tuple(steps), 150, 30, 20, 40, 127, 0.9, (20, 18, 22), (40, 36, 44), "measured"
        )
        file = io.BytesIO()
        Image.new("RGB", (2770, 1900), (90, 140, 200)).save(file, "JPEG")
        self.photo = StepPhoto(
            step_test=test,
            dpi=600,
            scale_bar_mm=200,
            wanted_opening_um=150,
            result=concluding.to_plain(result),
            by=self.tamsin,
            at=timezone.now(),
        )
        self.photo.straight.save("straight", ContentFile(file.getvalue()), save=False)
        self.photo.save()
        self.url = reverse("exposures:beside", args=[self.photo.pk])

    def test_it_begins_at_the_two_ends_of_the_window(self):
        page = self.client.get(self.url)
        self.assertContains(page, "Step 4, 15 s, short beside Step 2, 45 s, closing")
        # By hand: 127 µm drawn, 60 % of it open, are 76 µm.
        self.assertContains(page, "127 µm open measures 127 µm and 76 µm")

    def test_a_step_that_is_not_there_is_refused_with_what_was_chosen_kept(self):
        page = self.client.get(self.url, {"a": 1, "b": 9})
        self.assertContains(page, "has steps 1 to 4; step 9 was not read", status_code=422)
        self.assertContains(page, 'value="9"', status_code=422)

    def test_a_step_is_cut_from_the_photo_at_full_fineness(self):
        answer = self.client.get(reverse("exposures:step-picture", args=[self.photo.pk, 2]))
        cut = Image.open(io.BytesIO(answer.content))
        strip = photo_queries.film_of(self.photo.step_test, 600).steps[1]
        self.assertAlmostEqual(cut.width, strip.width_mm * 10, delta=3)
        self.assertEqual(cut.height, 1900)
        self.assertEqual(self.client.get(reverse("exposures:step-picture", args=[self.photo.pk, 9])).status_code, 404)
