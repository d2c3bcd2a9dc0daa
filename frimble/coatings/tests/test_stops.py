"""What was recorded of a screen or a coater stops its coat, until the lead says why it goes on."""

from django.utils import timezone

from frimble.coatings.coaters import services as coater_services
from frimble.coatings.coats import services as coat_services
from frimble.coatings.models import Coat
from frimble.coatings.runs import queries as run_queries
from frimble.coatings.tests.test_coat import CoatCase
from frimble.core.coating.drying import Air
from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.people import settings as house_settings
from frimble.screens.blemishes.services import note_blemish
from frimble.screens.models import Screen, ScreenEvent
from frimble.screens.steps.services import degrease, record_mesh_dry
from frimble.testing.records import record


class StopTests(CoatCase):
    def coat_other(self, person=None, **named):
        given = {"formula": "P1 S1", "batch": self.batch, "air": Air(35, 0.4)} | named
        return coat_services.coat("Q-015", person or self.tamsin, **given)

    def seen(self, look):
        degrease("Q-015", self.tamsin, dwell_s=30, look=look)
        record_mesh_dry("Q-015", self.tamsin)

    def assertStopped(self, words, **named):
        with self.assertRaises(RuleViolation) as stopped:
            self.coat_other(**named)
        self.assertTrue(stopped.exception.overridable)
        self.assertIn(words, stopped.exception.reason)
        self.assertFalse(Coat.objects.exists())

    def test_what_was_seen_after_degreasing_stops_the_coat(self):
        self.seen("emulsion")
        self.assertStopped("saw emulsion left. What is left of the last stencil prints")
        # A technician's reason does not do; the lead's is kept.
        self.assertStopped("emulsion left", override_reason="it is only the edge")
        coat = self.coat_other(self.odile, override_reason="it lies under the tape")
        self.assertEqual(coat.event.override_reason, "it lies under the tape")

    def test_haze_and_damage_stop_it_too_and_a_clean_look_does_not(self):
        for look, words in (("haze", "prints as a ghost image"), ("damage", "prints its damage")):
            with self.subTest(look):
                self.seen(look)
                self.assertStopped(words)
        self.seen("clean")
        self.assertTrue(self.coat_other().pk)

    def test_a_coater_that_does_not_pass_or_is_chipped_or_out_of_use(self):
        self.seen("clean")
        chipped, long = coater_services.add("Chipped", 300, True), coater_services.add("Long", 900, True)
        self.assertStopped("between this frame's rails at most", coater=long)
        coater_services.check(chipped, "chipped", self.tamsin)
        self.assertStopped("Chipped edge", coater=chipped)
        coater_services.check(chipped, "good", self.tamsin)
        self.assertTrue(self.coat_other(coater=chipped).pk)

    def test_a_stroke_no_hand_can_draw(self):
        self.seen("clean")
        for seconds in (0.01, 900):
            with self.subTest(seconds), self.assertRaises(InvalidInput) as refused:
                self.coat_other(stroke_s=seconds)
            self.assertEqual(refused.exception.field, "stroke_s")
        self.assertEqual(ScreenEvent.objects.filter(kind="coat", at__lte=timezone.now()).count(), 0)

    def reclaimed(self, outcome):
        for kind in ("degrease", "coat"):
            record("Q-015", kind, self.tamsin, summary=kind)
        record("Q-015", "reclaim", self.tamsin, summary="reclaimed", facts={"outcome": outcome})
        self.seen("clean")
        return Screen.objects.for_lists().get(frame__code="Q-015")

    def test_what_reclaim_left_is_drawn_before_a_coat_hides_it(self):
        screen = self.reclaimed("ghost")
        self.assertStopped("found ghost image that prints, and nobody drew where it lies")
        note_blemish(screen, self.tamsin, kind="ghost", x_mm=200, y_mm=300, width_mm=40, height_mm=40)
        self.assertTrue(self.coat_other().pk)

    def test_a_clean_look_settles_emulsion_that_reclaim_left_and_a_ghost_not(self):
        self.reclaimed("emulsion")
        self.assertTrue(self.coat_other().pk)

    def test_an_emulsion_that_does_not_stand_the_ink_or_the_thread(self):
        self.seen("clean")
        emulsion, mesh = self.batch.emulsion, Screen.objects.get(frame__code="Q-015").mesh
        emulsion.resists = "solvent"
        emulsion.save()
        self.assertStopped("does not stand water-based ink", ink="water")
        emulsion.suits = "dyed" if mesh.colour == "white" else "white"
        emulsion.save()
        self.assertStopped(f"is meant for {emulsion.suits} mesh", ink="solvent")
        planner = f"/coat/planner/?formula=P1+S1&mesh={mesh.pk}&emulsion={emulsion.pk}&ink=water"
        self.client.force_login(self.tamsin)
        self.assertContains(self.client.get(planner), "does not stand water-based ink")

    def test_a_coater_filled_far_from_the_houses_mark(self):
        self.seen("clean")
        # The house fills it half.
        self.assertStopped("filled to full, the house's mark is half", fill="full")
        self.assertTrue(self.coat_other(fill="quarter").pk)

    def test_the_coat_page_and_a_run_say_it_before_anything_is_poured(self):
        self.seen("emulsion")
        self.client.force_login(self.tamsin)
        self.assertContains(self.client.get("/coat/Q-015/"), "saw emulsion left")
        plan = run_queries.plan(
            [(Screen.objects.get(frame__code=code), "P1 S1") for code in ("Q-014", "Q-015")],
            self.batch,
            coater_services.add("Fitting", 420, True),
            "half",
            house_settings.current(),
        )
        self.assertEqual([s.code for s, _ in plan.cannot], ["Q-015"])
        self.assertIn("saw emulsion left", plan.cannot[0][1])
