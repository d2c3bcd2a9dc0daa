"""Frames and meshes coming and going, marks on a mesh, tension asked again, stencils kept."""

from datetime import timedelta

from django.utils import timezone

from frimble.core.lifecycle import State
from frimble.core.tension.measurement import DIRECTIONS, FIVE_PLACES, NINE_PLACES, TensionReading
from frimble.screens.blemishes import queries as blemish_queries
from frimble.screens.ledger import differences
from frimble.screens.lives import queries as life_queries
from frimble.screens.models import Blemish, MeshType, Screen, ScreenEvent
from frimble.screens.register import services as register_services
from frimble.screens.tension import services as tension_services
from frimble.screens.tension.forms import TensionForm
from frimble.testing.case import PageCase
from frimble.testing.records import record
from frimble.testing.shop import small_shop


def readings(value, places=FIVE_PLACES):
    return [TensionReading(p, d, value) for p in places for d in DIRECTIONS]


class RegisterCase(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.tamsin = self.people["tamsin"]
        self.mesh = MeshType.objects.filter(thermal=False).first()
        self.client.force_login(self.tamsin)

    def screen(self, code="Q-014"):
        return Screen.objects.for_lists().get(frame__code=code)

    def typed(self, value, places=FIVE_PLACES, **more):
        names = [TensionForm.name(p, d, n) for p in places for d in DIRECTIONS for n in (1, 2)]
        return dict.fromkeys(names, str(value)) | {"revision": self.screen().revision} | more


class ManyFramesTests(RegisterCase):
    def send(self, **typed):
        given = {
            "number": "3",
            "code": "R-098",
            "material": "draw_bar",
            "width_mm": "66 cm",
            "height_mm": "91 cm",
            "inner_width_mm": "58 cm",
            "mesh": self.mesh.pk,
            "line": "photo",
            "angle_deg": "22,5",
        } | typed
        return self.client.post("/screens/register/", given)

    def test_codes_are_counted_on(self):
        self.assertRedirects(self.send(), "/screens/register/")
        made = Screen.objects.for_lists().filter(frame__code__startswith="R-")
        self.assertEqual([s.code for s in made], ["R-098", "R-099", "R-100"])
        self.assertEqual((made[0].frame.inner_width_mm, made[0].installation.angle_deg), (580, 22.5))
        self.assertEqual(made[2].frame.get_material_display(), "draw-bar")

    def test_all_or_none(self):
        for typed, word in (
            ({"number": "51"}, "between 1 and 50"),
            ({"code": "R-", "number": "2"}, "End the first code with a number"),
            ({"code": "Q-013"}, "Q-014 exists already"),
            ({"inner_width_mm": "90 cm"}, "The clear inside"),
            ({"angle_deg": "80"}, "turn on the frame"),
            ({"number": "0"}, "between 1 and 50"),
        ):
            with self.subTest(word):
                before = Screen.objects.count()
                self.assertContains(self.send(**typed), word, status_code=422)
                self.assertEqual(Screen.objects.count(), before)


class MeshLifeTests(RegisterCase):
    def test_a_new_mesh_begins_anew_and_the_old_keeps_its_records(self):
        tension_services.record_tension("Q-014", readings(24), self.tamsin)
        old = self.screen().installation
        register_services.take_off("Q-014", self.tamsin, ending="slack")
        self.assertEqual(self.screen().state, State.NO_MESH)
        self.client.post("/screens/Q-014/do/send_away/", {"revision": self.screen().revision})
        self.assertEqual(self.screen().state, State.AWAY)
        page = self.client.get("/screens/Q-014/")
        self.assertContains(page, "Mount new mesh")
        self.client.post(
            "/screens/Q-014/mount/",
            {
                "revision": self.screen().revision,
                "mesh": self.mesh.pk,
                "line": "photo",
                "angle_deg": "0",
                "in_house": "on",
            },
        )
        screen = self.screen()
        self.assertEqual(
            (screen.state, screen.installation.number, screen.cycles, screen.tension_n_per_cm), ("bare", 2, 0, None)
        )
        self.assertEqual(old.events.filter(kind="tension").count(), 1)
        self.assertEqual(differences(screen), [])
        page = self.client.get("/screens/Q-014/tension/")
        self.assertContains(page, '<option value="first" selected>')

    def test_a_mesh_on_its_frame_is_not_mounted_over(self):
        given = {"revision": self.screen().revision, "mesh": self.mesh.pk, "line": "photo", "angle_deg": "0"}
        self.assertContains(self.client.post("/screens/Q-014/mount/", given), "still carries", status_code=422)
        self.assertEqual(self.screen().installation.number, 1)

    def test_readings_after_stretching_are_asked_for_in_turn(self):
        register_services.take_off("Q-014", self.tamsin, ending="torn")
        register_services.mount("Q-014", self.tamsin, mesh=self.mesh, in_house=True)
        for stage, value in (("first", 27.0), ("next_day", 25.5), ("settled", 25.0)):
            page = self.client.get("/screens/Q-014/tension/")
            self.assertContains(page, f'<option value="{stage}" selected>')
            self.client.post("/screens/Q-014/tension/", self.typed(value, stage=stage))
        stages = [e.facts["stage"] for e in ScreenEvent.objects.filter(kind="tension")]
        self.assertEqual(stages, ["first", "next_day", "settled"])
        self.assertContains(
            self.client.get("/screens/Q-014/"), "27.0 N/cm first, off the stretcher, 25.5 N/cm next day"
        )

    def test_taking_the_mesh_off_may_be_taken_back(self):
        register_services.take_off("Q-014", self.tamsin, ending="other")
        self.client.post("/screens/Q-014/take-back/", {"reason": "wrong screen", "revision": self.screen().revision})
        self.assertEqual(self.screen().state, State.BARE)

    def test_ended_meshes_make_the_life_curve(self):
        for code, ending in (("Q-014", "slack"), ("Q-015", "other")):
            register_services.take_off(code, self.tamsin, ending=ending)
        curve = life_queries.life_curve(self.mesh.pk, "aluminium")
        # Work for another job is no death: it was seen for so long.
        self.assertEqual(curve.deaths, 1)
        self.assertEqual(curve.lives, Screen.objects.filter(installation__mesh=self.mesh).count())
        self.assertContains(self.client.get("/screens/lives/"), f"1 of {curve.lives} ended")


class TensionPageTests(RegisterCase):
    def test_far_from_the_last_is_asked_again_and_not_refused(self):
        self.client.post("/screens/Q-014/tension/", self.typed(24))
        answer = self.client.post("/screens/Q-014/tension/", self.typed(17))
        self.assertContains(answer, "7.0 below the last measurement", status_code=422)
        self.assertContains(answer, "It is right: I measured again", status_code=422)
        self.assertEqual(self.screen().tension_n_per_cm, 24)
        self.client.post("/screens/Q-014/tension/", self.typed(17, sure="on"))
        self.assertEqual(self.screen().tension_n_per_cm, 17)

    def test_nine_places_for_a_large_frame(self):
        self.client.post("/screens/Q-014/tension/?places=9", self.typed(24, NINE_PLACES))
        measurement = ScreenEvent.objects.get(kind="tension").tension
        self.assertEqual(measurement.values.count(), 36)
        self.assertContains(self.client.get("/screens/Q-014/"), "upper middle 24.0 warp 24.0 weft")
        gauge = self.client.get("/screens/Q-014/tension/gauge/?places=9").json()["values"]
        self.assertEqual(len(gauge), 36)

    def test_the_passport_predicts_and_tells_what_slackness_costs(self):
        start = timezone.now() - timedelta(days=100)
        screen = self.screen()
        screen.installation.mounted_at = start
        screen.installation.save()
        for days, mean in ((1, 25.0), (40, 22.0), (95, 19.0)):
            record(
                "Q-014",
                "tension",
                self.tamsin,
                at=start + timedelta(days=days),
                facts={"mean": mean},
                summary="Tension",
            )
        page = self.client.get("/screens/Q-014/")
        self.assertContains(page, "below 20 already")
        self.assertContains(page, "Re-mesh.")
        self.assertContains(page, "another flash and another pass")


class CrossingTests(RegisterCase):
    def test_the_day_of_the_crossing_is_told_with_its_interval(self):
        start = timezone.now() - timedelta(days=100)
        screen = self.screen()
        screen.installation.mounted_at = start
        screen.installation.save()
        for days, mean in ((1, 25.0), (30, 22.3), (60, 21.4), (99, 20.9)):
            record(
                "Q-014",
                "tension",
                self.tamsin,
                at=start + timedelta(days=days),
                facts={"mean": mean},
                summary="Tension",
            )
        result = life_queries.life_of(self.screen(), [])
        day, first, last = result.crossing_days()
        self.assertEqual(result.forecast.crossing.verdict, "will cross")
        self.assertLessEqual(first, day)
        self.assertGreaterEqual(last or day, day)
        measured = timezone.localdate(start + timedelta(days=99))
        self.assertAlmostEqual((day - measured).days, result.forecast.crossing.value, delta=1)
        self.assertContains(self.client.get("/screens/Q-014/"), f"under the limit from {day:%-d %B %Y}")


class MarksTests(RegisterCase):
    def mark(self, **typed):
        given = {"kind": "ghost", "x_mm": "200", "y_mm": "300", "width_mm": "80", "height_mm": "50"} | typed
        return self.client.post("/screens/Q-014/marks/", given)

    def test_a_ghost_is_drawn_warned_of_and_cleared(self):
        self.assertRedirects(self.mark(), "/screens/Q-014/marks/")
        self.assertContains(self.client.get("/screens/Q-014/"), "ghost image that prints at 200, 300 mm")
        plan = (
            "/film/placement/?frame_width=1&frame_height=1&screen=q-014&images-TOTAL_FORMS=1&images-INITIAL_FORMS=0"
            "&images-0-name=Pennant&images-0-width=250&images-0-height=180"
        )
        self.assertContains(self.client.get(plan), "Pennant would lie on a ghost image that prints")
        self.assertNotContains(self.client.get(plan.replace("250", "60").replace("180", "40")), "would lie on")
        (ghost,) = blemish_queries.standing(self.screen().installation)
        self.client.post("/screens/Q-014/marks/", {"blemish": ghost.pk})
        self.assertFalse(blemish_queries.standing(self.screen().installation).exists())
        self.assertEqual(Blemish.objects.count(), 2)
        self.client.post("/screens/Q-014/marks/", {"blemish": ghost.pk})
        self.assertEqual(Blemish.objects.count(), 2)

    def test_places_beyond_the_frame_are_told(self):
        for typed, word in (
            ({"x_mm": "570"}, "would reach 650"),
            ({"y_mm": "-4"}, "between 0"),
            ({"kind": "x"}, "choice"),
        ):
            self.assertContains(self.mark(**typed), word, status_code=422)
        plan = self.client.get("/film/placement/?frame_width=1&frame_height=1&screen=NO-1")
        self.assertContains(plan, "No screen is called", status_code=422)

    def test_the_guide_follows_products_age_and_ghosts(self):
        self.mark()
        for kind in ("degrease", "coat"):
            record("Q-014", kind, self.tamsin, summary=kind, facts={"layer": 1, "layers": 1} if kind == "coat" else {})
        lead = self.client
        lead.force_login(self.people["odile"])
        lead.post("/screens/products/", {"name_1": "Plain stripper", "dwell_1": "45", "name_0": "", "name_2": ""})
        page = lead.get("/screens/Q-014/do/reclaim/")
        self.assertContains(page, "Plain stripper")
        self.assertContains(page, 'data-seconds="45"')
        self.assertContains(page, "Haze remover")
        self.assertNotContains(page, "Second round")
        done = lead.post(
            "/screens/Q-014/do/reclaim/",
            {"rounds": "2", "minutes": "8", "outcome": "ghost", "revision": self.screen().revision},
        )
        self.assertRedirects(done, "/screens/Q-014/marks/")
        self.assertContains(lead.get("/screens/Q-014/"), "8 min<small>2 rounds")
        facts = ScreenEvent.objects.get(kind="reclaim").facts
        self.assertEqual(facts["products"], {"emulsion remover": {"name": "Plain stripper", "dwell_s": 45.0}})
        self.assertContains(lead.get("/screens/Q-014/"), "8 min with Plain stripper: ghost image that prints")


class KeepTests(RegisterCase):
    def test_a_stencil_is_weighed(self):
        page = self.client.get("/screens/Q-014/keep/?chance=80&days=20&minutes=45&goods=6")
        self.assertContains(page, "Keep it")
        page = self.client.get("/screens/Q-014/keep/?chance=5&days=300&minutes=45&goods=6")
        self.assertContains(page, "Reclaim it")
        bad = self.client.get("/screens/Q-014/keep/?chance=500&days=20&minutes=45&goods=6")
        # Beside the field, in its own unit, with what was typed.
        said = "The chance of a reorder, in %, must be between 0 and 100; 500 was given."
        self.assertEqual(bad.context["form"].errors["chance"], [said])
        self.assertContains(bad, 'value="500"', status_code=422)
