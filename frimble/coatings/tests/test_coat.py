from datetime import timedelta

from django.utils import timezone

from frimble.coatings.coats import services as coat_services
from frimble.coatings.coats.usual import usual_coat
from frimble.coatings.models import Batch, Coat, Emulsion
from frimble.core.coating.drying import Air, hold_minutes
from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.people import settings as house_settings
from frimble.screens.ledger import Conflict
from frimble.screens.models import Screen
from frimble.screens.steps.services import degrease, record_mesh_dry
from frimble.testing.case import PageCase
from frimble.testing.records import record
from frimble.testing.shop import small_shop


class CoatCase(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.tamsin, self.odile = self.people["tamsin"], self.people["odile"]
        self.batch = Batch.objects.get()
        degrease("Q-014", self.tamsin, dwell_s=30)
        record_mesh_dry("Q-014", self.tamsin)

    def screen(self):
        return Screen.objects.for_lists().get(frame__code="Q-014")

    def coat(self, formula="P1 S1", person=None, air_c=35, humidity=0.4, **named):
        given = {"batch": self.batch, "air": Air(air_c, humidity)} | named
        return coat_services.coat("Q-014", person or self.tamsin, formula=formula, **given).event


class CoatTests(CoatCase):
    def test_a_coat_is_recorded_with_its_drying_and_colour(self):
        event = self.coat()
        coat = Coat.objects.get()
        self.assertEqual((coat.formula, coat.layer, coat.event), ("P1 S1", 1, event))
        self.assertLess(coat.dry_low_min, coat.dry_min)
        screen = self.screen()
        self.assertEqual((screen.state, screen.coat_colour), ("coated", self.batch.emulsion.colour))
        minutes = (screen.wet_until - screen.since).total_seconds() / 60
        hold = hold_minutes(coat.drying_time, house_settings.current())
        self.assertAlmostEqual(minutes, hold, places=3)

    def test_layers_are_laid_one_after_another_each_after_drying(self):
        self.coat("P1 S1 / P1r / P1r")
        self.assertEqual(self.screen().state, "part_coated")
        with self.assertRaises(RuleViolation) as caught:
            self.coat("P1 S1 / P1r / P1r")
        self.assertIn("Layer 1 of 3 is drying", caught.exception.reason)
        for _ in range(2):
            self.coat("P1 S1 / P1r / P1r", person=self.odile, override_reason="test")
        self.assertEqual((self.screen().state, self.screen().layers_done), ("coated", 3))
        self.assertEqual([c.layer for c in Coat.objects.order_by("pk")], [1, 2, 3])

    def test_a_coat_begun_is_finished_with_its_own_formula(self):
        self.coat("P1 S1 / P1r")
        with self.assertRaises(InvalidInput) as caught:
            self.coat("P1 S1", person=self.odile, override_reason="test")
        self.assertIn("begun with P1 S1 / P1r", str(caught.exception))

    def test_a_batch_past_its_life_is_for_the_lead_to_decide(self):
        Batch.objects.update(mixed_at=timezone.now() - timedelta(days=80))
        self.batch.refresh_from_db()
        for person, reason in ((self.tamsin, ""), (self.tamsin, "only one left"), (self.odile, "")):
            with self.subTest(person=person, reason=reason), self.assertRaises(RuleViolation) as caught:
                self.coat(person=person, override_reason=reason)
            self.assertIn("past its life", caught.exception.reason)
        self.assertEqual(self.coat(person=self.odile, override_reason="only one left").override_reason, "only one left")

    def test_saturated_air_is_refused_before_coating(self):
        with self.assertRaises(RuleViolation):
            self.coat(humidity=1)
        self.assertEqual(self.screen().state, "degreased")

    def test_a_failed_coat_writes_neither_event_nor_coat(self):
        before = self.screen().revision
        for formula, error in (("P1 Q1", InvalidInput), ("", InvalidInput)):
            with self.subTest(formula), self.assertRaises(error):
                self.coat(formula)
        with self.assertRaises(Conflict):
            self.coat(revision=before - 1)
        self.assertFalse(Coat.objects.exists())
        self.assertEqual(self.screen().revision, before)


class CoatPageTests(CoatCase):
    def setUp(self):
        super().setUp()
        self.client.force_login(self.tamsin, backend="django.contrib.auth.backends.ModelBackend")

    def post(self, **changed):
        typed = {
            "formula": "P1 S1",
            "batch": self.batch.pk,
            "air_c": "34",
            "humidity": "45",
            "fan": "low",
            "revision": self.screen().revision,
        }
        return self.client.post("/coat/Q-014/", typed | changed)

    def test_bad_values_are_said_beside_their_fields_and_kept(self):
        for changed, words in (
            ({"formula": "P1 Q1"}, "Character 4, “Q”"),
            ({"humidity": "400"}, "400 % is not between 0 and 100"),
            ({"air_c": "95"}, "between 0 and 60"),
            ({"air_c": "warm"}, "“warm” is not a number"),
            ({"batch": ""}, "This field is required"),
        ):
            with self.subTest(changed):
                response = self.post(note="kept", **changed)
                self.assertContains(response, words, status_code=422)
                self.assertContains(response, 'value="kept"', status_code=422)
        self.assertFalse(Coat.objects.exists())

    def test_fahrenheit_is_read_as_such(self):
        self.tamsin.units = "inch"
        self.tamsin.save()
        self.assertRedirects(self.post(air_c="95"), "/screens/Q-014/")
        self.assertAlmostEqual(Coat.objects.get().air_c, 35)

    def test_the_preview_says_steps_notes_and_drying_and_stores_nothing(self):
        asked = {"formula": "s1 p1", "batch": self.batch.pk, "air_c": "35", "humidity": "40", "fan": "low"}
        answer = self.client.get("/coat/Q-014/preview/", asked).json()
        self.assertEqual(answer["formula"], "S1 P1")
        self.assertEqual(len(answer["steps"]), 3)
        self.assertIn("This layer is held for", answer["dry"])
        self.assertIn(
            "Character 4", self.client.get("/coat/Q-014/preview/", asked | {"formula": "P1 X"}).json()["reason"]
        )
        self.assertFalse(Coat.objects.exists())

    def test_a_batch_is_entered_once_and_not_from_the_future(self):
        emulsion = Emulsion.objects.get()
        typed = {"code": "sd-09", "emulsion": emulsion.pk, "mixed_on": str(timezone.localdate()), "kept_c": "20"}
        self.assertEqual(self.client.post("/coat/batches/", typed).status_code, 302)
        tomorrow = str(timezone.localdate() + timedelta(days=2))
        for changed, words in (
            ({}, "SD-09 exists already"),
            ({"code": "SD-10", "mixed_on": tomorrow}, "dated in the future"),
            ({"code": "SD-10", "mixed_on": "23.11."}, "such as 2026-11-03"),
            ({"code": "SD-10", "kept_c": "90"}, "between -5 and 50"),
        ):
            with self.subTest(words):
                self.assertContains(self.client.post("/coat/batches/", typed | changed), words, status_code=422)
        self.assertEqual(Batch.objects.count(), 2)


class FaultTests(CoatCase):
    def setUp(self):
        super().setUp()
        self.client.force_login(self.tamsin)

    def test_a_fault_is_noted_on_any_layer_wet_or_dry(self):
        self.assertContains(self.client.get("/coat/Q-014/faults/"), "No coat is on Q-014 now.")
        self.coat("P1 S1 / P1r")
        Screen.objects.update(wet_until=timezone.now() - timedelta(minutes=1))
        self.coat("P1 S1 / P1r")
        first, second = Coat.objects.order_by("pk")
        for laid, kind in ((first, "bead"), (second, "dust")):
            self.client.post("/coat/Q-014/faults/", {"coat": laid.pk, "kind": kind})
        self.assertEqual([d.kind for d in first.defects.all()], ["bead"])
        page = self.client.get("/coat/Q-014/faults/")
        self.assertContains(page, "layer 2")
        self.assertContains(page, "Sand out a small chip")

    def test_what_is_noted_twice_or_belongs_to_another_screen_is_refused(self):
        self.coat()
        laid = Coat.objects.get()
        self.client.post("/coat/Q-014/faults/", {"coat": laid.pk, "kind": "dust"})
        again = self.client.post("/coat/Q-014/faults/", {"coat": laid.pk, "kind": "dust"}, follow=True)
        self.assertContains(again, "noted for this coat already")
        self.assertEqual(self.client.post("/coat/Q-015/faults/", {"coat": laid.pk, "kind": "dust"}).status_code, 404)


class UsualTests(PageCase):
    """The form begins as the shop last coated such a mesh, and the usual thing is one tap."""

    def setUp(self):
        self.people = small_shop()
        self.client.force_login(self.people["tamsin"])

    def typed(self, page) -> dict:
        form = page.context["form"]
        return {f.html_name: f.value() if f.value() is not None else "" for f in form}

    def test_the_first_is_empty_and_the_next_like_it_is_recorded_as_it_stands(self):
        record("Q-014", "degrease", self.people["tamsin"], summary="Degreased")
        first = self.client.get("/coat/Q-014/")
        self.assertEqual(first.context["form"]["formula"].value(), "")
        self.client.post("/coat/Q-014/", self.typed(first) | {"formula": "P2 S1", "batch": Batch.objects.get().pk})
        self.assertEqual(Coat.objects.get().formula, "P2 S1")
        record("Q-015", "degrease", self.people["tamsin"], summary="Degreased")
        page = self.client.get("/coat/Q-015/")
        self.assertContains(page, "As Tamsin last coated 77-48")
        answer = self.client.post("/coat/Q-015/", self.typed(page))
        self.assertEqual(answer.status_code, 302)
        self.assertEqual(Coat.objects.latest("pk").formula, "P2 S1")
        self.assertEqual(Coat.objects.latest("pk").batch, Coat.objects.earliest("pk").batch)

    def test_of_a_coat_in_layers_the_next_screen_takes_how_it_was_begun(self):
        tamsin, long_ago = self.people["tamsin"], timezone.now() - timedelta(days=2)
        record("Q-014", "degrease", tamsin, summary="Degreased", at=long_ago)
        # What came before the second layer was written down by nobody.
        for layer, fill in ((2, "half"), (3, "full")):
            at = long_ago + timedelta(hours=4 * layer)
            laid = record("Q-014", "coat", tamsin, facts={"layer": layer, "layers": 3}, summary="Coated", at=at)
            Coat.objects.create(
                event=laid, batch=Batch.objects.get(), formula="P1 / P1 / P1", layer=layer, fill=fill,
                air_c=30, humidity=0.4, fan="low", dry_min=40, dry_low_min=30, dry_high_min=60,
            )  # fmt: skip
        usual = usual_coat(Screen.objects.get(frame__code="Q-015"))
        self.assertEqual((usual.formula, usual.fill, usual.last.layer), ("P1 / P1 / P1", "half", 2))
