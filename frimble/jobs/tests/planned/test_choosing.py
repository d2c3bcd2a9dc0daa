"""Choosing screens for a job's colours, and new jobs."""

from datetime import timedelta
from unittest.mock import patch

from django.core.cache import cache
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from frimble.core.conclusions import RuleViolation
from frimble.jobs.choosing import services, views
from frimble.jobs.models import Job, ScreenChoice, ScreenNeed
from frimble.people import settings as house_settings
from frimble.screens.models import Blemish, Frame, MeshType, Screen
from frimble.testing.case import PageCase
from frimble.testing.shop import small_shop


class ChoosingCase(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.client.force_login(self.people["tamsin"])
        self.job = Job.objects.get()
        self.mesh = MeshType.objects.get(thermal=False)

    def need(self, colour="gold", number=1, job=None, **more):
        job = job or self.job
        more = {"job": job, "mesh": self.mesh, "formula": "P1 S1", "colour": colour, "number": number} | more
        return ScreenNeed.objects.create(**more)

    def url(self, need):
        return f"/jobs/{need.job.number}/screens/{need.pk}/"


class ChooseTests(ChoosingCase):
    def test_a_screen_is_held_swapped_with_a_reason_and_let_go(self):
        need = self.need()
        self.assertContains(self.client.get(self.url(need)), "clean, bare mesh")
        self.assertRedirects(self.client.post(self.url(need), {"code": "Q-015"}), "/jobs/J-301/")
        self.assertContains(self.client.get("/jobs/J-301/"), "0 of 1 colour is ready")
        self.assertContains(self.client.get("/jobs/"), "0 of 1 ready")
        Screen.objects.filter(frame__code="Q-015").update(state="ready")
        self.assertContains(self.client.get("/jobs/"), "1 of 1 ready")
        self.assertContains(self.client.get("/jobs/J-301/"), "Every screen is ready.")
        refused = self.client.post(self.url(need), {"code": "Q-016"})
        self.assertContains(refused, "Say why it is swapped for Q-016", status_code=422)
        self.client.post(self.url(need), {"code": "Q-016", "because": "Q-015 fell"})
        self.client.post(self.url(need), {"act": "let-go", "because": "job put off"})
        told = list(ScreenChoice.objects.values_list("frame__code", "because"))
        self.assertEqual(told, [("Q-015", ""), ("Q-016", "Q-015 fell"), (None, "job put off")])
        need.refresh_from_db()
        self.assertIsNone(need.frame)

    def test_nobody_else_takes_what_is_held(self):
        held, other = self.need(), self.need("red")
        self.client.post(self.url(held), {"code": "Q-014"})
        page = self.client.post(self.url(other), {"code": "Q-014", "because": "mine"})
        self.assertContains(page, "Q-014 is held for J-301 gold", status_code=422)
        self.assertContains(self.client.get(self.url(other)), "held for J-301 gold")

    def test_all_are_held_at_once_or_none_and_as_quickly_for_many(self):
        one, two = self.need(), self.need("red", number=2)
        settings, person = house_settings.current(), self.people["odile"]
        for pairs, words in (
            ([(one.pk, "Q-014"), (two.pk, "Q-014")], "Q-014 is held for J-301 gold"),
            ([(one.pk, "Q-014"), (two.pk, "Q-063")], "Q-063 carries another mesh"),
            ([(one.pk, "Q-014"), (10**6, "Q-015")], "The jobs have changed"),
        ):
            with self.subTest(words), self.assertRaisesMessage(RuleViolation, words):
                services.hold_all(pairs, person, settings)
        self.assertFalse(ScreenChoice.objects.exists())
        with CaptureQueriesContext(connection) as of_one:
            services.hold_all([(one.pk, "Q-014")], person, settings)
        asked = len(of_one)
        with CaptureQueriesContext(connection) as of_two:
            services.hold_all([(two.pk, "Q-015"), (two.pk, "Q-016")], person, settings)
        # One need more is written, and one choice; there are alike ones to tell apart, and others that hold something.
        self.assertLessEqual(len(of_two), asked + 4)
        held = ScreenNeed.objects.order_by("pk").values_list("colour", "number", "frame__code")
        self.assertCountEqual(held, [("gold", 1, "Q-014"), ("red", 1, "Q-015"), ("red", 1, "Q-016")])

    def test_two_alike_of_one_job_never_hold_the_same_screen(self):
        first, second = self.need("", formula="P1 S1"), self.need("", formula="P1 S1")
        self.client.post(self.url(first), {"code": "Q-014"})
        page = self.client.post(self.url(second), {"code": "Q-014", "because": "mine too"})
        self.assertContains(page, "Q-014 is held for J-301", status_code=422)
        self.assertEqual(Frame.objects.get(code="Q-014").held_for.count(), 1)

    def test_what_speaks_against_a_screen_asks_for_a_reason_that_is_kept(self):
        need = self.need()
        installation = Screen.objects.get(frame__code="Q-014").installation
        place = {"x_mm": 100, "y_mm": 100, "width_mm": 40, "height_mm": 40}
        Blemish.objects.create(
            installation=installation, kind="hole", at=timezone.now(), by=self.people["odile"], **place
        )
        page = self.client.post(self.url(need), {"code": "Q-014"})
        self.assertContains(page, "has a place that prints through. Say why", status_code=422)
        self.client.post(self.url(need), {"code": "Q-014", "because": "off the image"})
        self.assertEqual(ScreenNeed.objects.get().frame.code, "Q-014")

    def test_one_of_several_alike_becomes_a_colour_of_its_own(self):
        need = self.need("", number=2)
        self.client.post(self.url(need), {"code": "Q-014"})
        held = ScreenNeed.objects.values_list("number", "frame__code")
        self.assertEqual(sorted(held, key=str), sorted([(1, None), (1, "Q-014")], key=str))

    def test_a_thermal_screen_or_an_unknown_code_cannot_be_chosen(self):
        need = self.need()
        for code in ("Q-063", "Q-999"):
            self.assertContains(self.client.post(self.url(need), {"code": code}), "cannot be chosen", status_code=422)


class WeekTests(ChoosingCase):
    def test_all_coming_colours_get_their_screens_at_once(self):
        for colour in ("white", "gold", "red"):
            self.need(colour)
        long_past = Job.objects.create(
            number="J-302", name="Clocks", press_on=timezone.localdate() - timedelta(days=15)
        )
        self.need("black", job=long_past)
        page = self.client.get("/jobs/screens/")
        self.assertContains(page, "3 of 3 colours have a screen that suits")
        self.assertNotContains(page, "J-302")
        self.client.post("/jobs/screens/", {"pairs": page.context["week"].pairs})
        self.assertEqual(Frame.objects.filter(held_for__job=self.job).count(), 3)
        self.assertContains(self.client.get("/jobs/screens/"), "No colour waits for a screen")

    def test_many_are_assigned_those_wanted_first(self):
        with patch.object(views, "_AT_ONCE", 2):
            for colour in ("white", "gold", "red"):
                self.need(colour)
            page = self.client.get("/jobs/screens/")
        self.assertContains(page, "2 of 2 colours have a screen that suits")
        self.assertContains(page, "1 more come when these are held")

    def test_more_colours_ask_no_more_of_the_database(self):
        for colour in ("white", "gold"):
            self.need(colour)
        # Nothing that earlier tests left is kept any more, so that nothing kept runs out between the two.
        cache.clear()
        self.client.get("/jobs/screens/")
        few = self.queries()
        for number in range(6):
            self.need(f"red {number}")
        self.assertEqual(self.queries(), few)

    def queries(self) -> int:
        with CaptureQueriesContext(connection) as asked:
            self.client.get("/jobs/screens/")
        return len(asked)

    def test_where_one_was_taken_meanwhile_none_is_held(self):
        first, second = self.need("white"), self.need("gold")
        pairs = f"{first.pk}:Q-014 {second.pk}:Q-014"
        self.assertContains(self.client.post("/jobs/screens/", {"pairs": pairs}), "Q-014 is held for", status_code=422)
        self.assertFalse(ScreenChoice.objects.exists())
        self.assertContains(self.client.post("/jobs/screens/", {"pairs": "x"}), "no choice", status_code=422)

    def test_a_colour_that_no_screen_fits_says_so(self):
        coarse = MeshType.objects.create(count_per_cm=10, thread_um=260)
        self.need("stamp", mesh=coarse)
        self.assertContains(self.client.get("/jobs/screens/"), "There is no screen.")


class NewJobTests(ChoosingCase):
    def test_a_job_is_taken_in_like_an_earlier_one(self):
        self.need("white", frame=Frame.objects.get(code="Q-014"))
        self.need("gold")
        typed = {"number": "J-401", "name": "Lugger Week pennants", "like": self.job.pk, "press_time": "14:30"}
        soon = timezone.localdate() + timedelta(days=2)
        self.client.post("/jobs/new/", typed | {"press_on": soon.isoformat()})
        made = Job.objects.get(number="J-401")
        self.assertEqual((made.press_on, made.press_time.hour), (soon, 14))
        self.assertEqual([(n.colour, n.frame) for n in made.needs.all()], [("gold", None), ("white", None)][::-1])

    def test_what_cannot_be_is_told_beside_its_field_with_all_kept(self):
        past = (timezone.localdate() - timedelta(days=3)).isoformat()
        page = self.client.post("/jobs/new/", {"number": "j-301", "name": "Clocks", "press_on": past})
        self.assertContains(page, "There is a job j-301 already", status_code=422)
        page = self.client.post("/jobs/new/", {"number": "J-9", "name": "Clocks", "press_on": past})
        self.assertContains(page, "is past.", status_code=422)
        self.assertContains(page, 'value="Clocks"', status_code=422)
        self.assertFalse(Job.objects.filter(number="J-9").exists())
        page = self.client.post("/jobs/J-301/", {"act": "when", "press_time": "10:00"})
        self.assertContains(page, "An hour wants its day", status_code=422)
