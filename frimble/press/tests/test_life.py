"""A stencil's own page, and what became of the stencils of a film."""

from django.utils import timezone

from frimble.exposures.models import Exposure, Lamp
from frimble.films.models import Film, FilmProcess
from frimble.press.feedback import services as feedback_services
from frimble.press.life import queries
from frimble.press.services import back_from_press
from frimble.press.tests.printed import PrintedCase
from frimble.screens.models import Cycle, Screen, ScreenEvent
from frimble.stencils.diagnosis.models import ConfirmedCause
from frimble.testing.records import record


class LifeTests(PrintedCase):
    def screen(self):
        return Screen.objects.for_lists().get(frame__code="Q-014")

    def say(self, **said):
        return feedback_services.record(self.screen(), self.ines, **said)

    def expose(self, film):
        """What the exposure page would have kept."""
        return Exposure.objects.create(
            event=ScreenEvent.objects.get(kind="expose"), lamp=Lamp.objects.first(), film=film,
            film_process=FilmProcess.objects.first(), planned_s=32, given_s=32,
        )  # fmt: skip

    def test_what_is_on_record_stands_on_one_page(self):
        self.say(opacity="opaque", hold="held", impressions=240)
        page = self.client.get("/press/Q-014/life/")
        self.assertContains(page, "Held its run, 240 impressions")
        self.assertContains(page, "P1 S1")
        self.assertContains(page, "opaque, it holds")
        self.assertContains(self.client.get("/screens/Q-014/"), "/press/Q-014/life/")

    def test_a_stencil_that_broke_says_why_once_that_is_known(self):
        self.say(hold="broke", impressions=60)
        page = self.client.get("/press/Q-014/life/")
        self.assertContains(page, "Broke down on press, 60 impressions")
        self.assertContains(page, "Nobody has confirmed a cause yet.")
        ConfirmedCause.objects.create(
            installation=self.screen().installation, cycle=Cycle.objects.latest("pk"), cause="under_exposed",
            symptoms=["breaks_down_on_press"], facts={}, probability=0.7, at=timezone.now(), by=self.tamsin,
        )  # fmt: skip
        self.assertContains(self.client.get("/press/Q-014/life/"), "confirmed by Tamsin at 70 % likely")

    def test_impressions_of_a_run_that_came_back_count_once(self):
        # Source: the press's own counts, 240 so far and 300 when it came back.
        self.say(opacity="opaque", impressions=240)
        back_from_press("Q-014", self.ines, impressions=300)
        (life,) = queries.lives_of(queries.cycles_of(self.screen()))
        self.assertEqual(life.impressions, 300)

    def test_an_earlier_stencil_is_chosen_and_a_strange_one_is_not_found(self):
        first = Cycle.objects.latest("pk")
        back_from_press("Q-014", self.ines, impressions=10)
        for kind in ("strip", "reclaim", "degrease"):
            record("Q-014", kind, self.tamsin, summary=kind)
        self.assertContains(self.client.get(f"/press/Q-014/life/?stencil={first.pk}"), "10 impressions")
        self.assertEqual(self.client.get("/press/Q-014/life/?stencil=99999").status_code, 404)
        self.assertEqual(self.client.get("/press/Q-014/life/?stencil=x").status_code, 404)

    def test_a_bare_screen_has_no_stencil_yet(self):
        self.assertContains(self.client.get("/press/Q-016/life/"), "No stencil yet")

    def test_a_film_gathers_its_stencils_and_names_the_recipe_that_held(self):
        film = Film.objects.create(name="Pennant", made_at=timezone.now(), made_by=self.tamsin)
        page = self.client.get(f"/press/films/{film.pk}/")
        self.assertContains(page, "Nothing printed from it yet")
        self.expose(film)
        self.say(opacity="opaque", hold="held", impressions=500)
        page = self.client.get(f"/press/films/{film.pk}/")
        self.assertContains(page, "Best so far: ")
        self.assertContains(page, "32 s under")
        self.assertContains(page, "1 of 1 held, 500 impressions. Too few to rely on.")
        self.assertContains(self.client.get("/press/Q-014/life/"), f"/press/films/{film.pk}/")

    def test_a_page_of_many_stencils_asks_no_more_of_the_database(self):
        film = Film.objects.create(name="Pennant", made_at=timezone.now(), made_by=self.tamsin)
        self.expose(film)
        with self.assertNumQueries(9):
            queries.lives_of(list(Cycle.objects.select_related("installation__mesh", "installation__frame")))
