"""Coating runs, planning, and how steadily the room coats."""

from datetime import timedelta
from unittest.mock import patch

from django.utils import timezone

from frimble.coatings.batches import queries as batch_queries
from frimble.coatings.batches import services as batch_services
from frimble.coatings.coaters import services as coater_services
from frimble.coatings.coats import services as coat_services
from frimble.coatings.models import Batch, Coat, CoatRecipe, CoatThickness, Emulsion
from frimble.coatings.planner import outcomes
from frimble.coatings.runs import queries as run_queries
from frimble.coatings.runs import services as run_services
from frimble.coatings.tests.test_coat import CoatCase
from frimble.coatings.thickness import queries as thickness_queries
from frimble.core.coating.drying import Air
from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.people import settings as house_settings
from frimble.screens.models import Screen, ScreenEvent
from frimble.screens.steps.services import degrease, record_mesh_dry


class RunCase(CoatCase):
    def setUp(self):
        super().setUp()
        degrease("Q-015", self.tamsin, dwell_s=30)
        record_mesh_dry("Q-015", self.tamsin)
        self.coater = coater_services.add("Narrow", 440, True)
        Batch.objects.update(litres=2.0, capacity_l=2.5)
        self.batch = Batch.objects.get()

    def chosen(self, *formulas):
        screens = Screen.objects.for_lists().filter(state="degreased").order_by("frame__code")
        return list(zip(screens, formulas or ("P1 S1", "P1 S1"), strict=False))

    def start(self, *formulas, poured_l=0.5, **named):
        given = {"batch": self.batch, "coater": self.coater, "fill": "half", "poured_l": poured_l} | named
        return run_services.start(self.chosen(*formulas), self.tamsin, **given)


class RunTests(RunCase):
    def test_a_run_from_pouring_to_washing(self):
        run = self.start()
        while turn := run_queries.next_turn(run):
            run_services.coated(run, turn, self.tamsin)
        self.assertEqual(Coat.objects.filter(fill="half", coater=self.coater).count(), 2)
        with self.assertRaises(InvalidInput):
            run_services.finish(run, self.tamsin, returned_l=0.4, washed=False)
        with self.assertRaises(InvalidInput):
            run_services.finish(run, self.tamsin, returned_l=0.9, washed=True)
        run_services.finish(run, self.tamsin, returned_l=0.4, washed=True)
        self.assertAlmostEqual(run_queries.used_l(run), 0.1)
        self.assertAlmostEqual(batch_queries.litres_left(Batch.objects.get()), 1.9)

    def test_the_longest_to_dry_goes_first_and_the_edge_is_changed_once(self):
        plan = run_queries.plan(
            self.chosen("P1 S1", "P2 S2"), self.batch, self.coater, "half", house_settings.current()
        )
        self.assertEqual([str(t.formula) for t in plan.turns], ["P2 S2", "P1 S1"])
        self.assertGreater(plan.need.pour_ml, plan.need.back_ml)
        plan = run_queries.plan(self.chosen("P2r", "P1 S1"), self.batch, self.coater, "half", house_settings.current())
        self.assertEqual([str(t.formula) for t in plan.turns], ["P1 S1", "P2r"])

    def test_a_coater_that_does_not_fit_leaves_screens_out(self):
        long = coater_services.add("Long", 700, True)
        with self.assertRaises(InvalidInput) as caught:
            run_queries.plan(self.chosen(), self.batch, long, "half", house_settings.current())
        self.assertIn("frame joint", str(caught.exception))

    def test_cold_old_or_overdrawn_batches_and_chipped_coaters(self):
        batch_services.move(self.batch, 5, self.tamsin)
        with self.assertRaises(RuleViolation) as caught:
            self.start()
        self.assertIn("stands in the cold", caught.exception.reason)
        batch_services.move(self.batch, 20, self.tamsin)
        with self.assertRaises(RuleViolation) as caught:
            self.start()
        self.assertIn("let it stand", caught.exception.reason)
        coater_services.check(self.coater, "chipped", self.tamsin)
        with self.assertRaises(InvalidInput) as caught:
            self.start()
        self.assertIn("beads", str(caught.exception))
        self.assertFalse(Coat.objects.exists())

    def test_a_screen_left_out_says_why_and_keeps_its_state(self):
        run = self.start()
        with self.assertRaises(InvalidInput):
            run_services.leave_out(run_queries.next_turn(run), " ")
        run_services.leave_out(run_queries.next_turn(run), "pinhole in the mesh")
        self.assertEqual(run_queries.next_turn(run).number, 2)
        with self.assertRaises(RuleViolation):
            run_services.coated(run, run.screens.first(), self.tamsin)

    def test_a_fault_is_noted_once_with_its_cause(self):
        run = self.start()
        coat = run_services.coated(run, run_queries.next_turn(run), self.tamsin)
        coat_services.note_defect(coat, "drip", self.tamsin)
        with self.assertRaises(InvalidInput):
            coat_services.note_defect(coat, "drip", self.tamsin)
        tally = outcomes.by_person(house_settings.current())[0]
        self.assertEqual((tally.who, tally.coats, tally.faulty), ("Tamsin", 1, 1))
        self.assertEqual(outcomes.fills_by_person()[0][0], "Tamsin")


class SteadinessTests(CoatCase):
    def measured(self, eom_um, fill="half"):
        """One coat laid and measured, without waiting for it to dry."""
        screen = self.screen()
        made = {"installation": screen.installation, "at": timezone.now(), "by": self.tamsin, "summary": "."}
        coat = Coat.objects.create(
            event=ScreenEvent.objects.create(kind="coat", **made),
            batch=self.batch,
            formula="P1 S1",
            layer=1,
            fill=fill,
            air_c=34,
            humidity=0.4,
            dry_min=60,
            dry_low_min=40,
            dry_high_min=90,
        )
        CoatThickness.objects.create(
            event=ScreenEvent.objects.create(kind="thickness", **made),
            coat=coat,
            bare_um=77,
            readings_um=[77 + eom_um],
            eom_um=eom_um,
            spread_um=1,
        )

    def test_a_coat_off_the_chart_says_what_moved(self):
        for value in (12, 11.5, 12.2, 11.8, 12.1, 11.9, 12.3, 11.7, 12, 11.6, 12.2, 11.9) * 2:
            self.measured(value)
        self.measured(17, fill="full")
        result = thickness_queries.steadiness(house_settings.current())
        self.assertEqual([o.taken.eom_um for o in result.off], [17])
        self.assertIn("coater 100 % full against 50 %", result.off[0].moved[0].words)

    def test_too_few_are_said_to_be_too_few(self):
        self.measured(12)
        self.assertIsNone(thickness_queries.steadiness(house_settings.current()).chart)


class PlanPageTests(RunCase):
    def setUp(self):
        super().setUp()
        self.client.force_login(self.tamsin, backend="django.contrib.auth.backends.ModelBackend")

    def test_the_planner_shows_what_a_formula_comes_to(self):
        page = self.client.get("/coat/planner/", {"formula": "P1 S1 / P1r"})
        for words in ("Emulsion over mesh", "Wet ink on press", "ml a screen", "in 2 dryings", "estimate until tested"):
            self.assertContains(page, words)
        self.assertContains(self.client.get("/coat/planner/", {"formula": "P1 Q1"}), "Character 4", status_code=422)
        part = self.client.get("/coat/planner/", {"formula": "P1"}, headers={"X-Part": "effects"})
        self.assertNotContains(part, "<html")

    def test_a_shop_without_emulsions_is_told_what_to_enter(self):
        with patch("frimble.coatings.planner.views.Emulsion.objects.first", return_value=None):
            self.assertContains(self.client.get("/coat/planner/"), "Enter an emulsion first")

    def test_a_lead_names_a_formula(self):
        typed = {
            "formula": "p2 s2",
            "name": "Two and two",
            "use": "more body",
            "coarsest_per_cm": "43",
            "finest_per_cm": "77",
        }
        self.assertEqual(self.client.post("/coat/planner/name/", typed).status_code, 403)
        self.client.force_login(self.odile, backend="django.contrib.auth.backends.ModelBackend")
        refused = self.client.post("/coat/planner/name/", typed | {"finest_per_cm": "10"})
        self.assertContains(refused, "finest mesh", status_code=422)
        self.client.post("/coat/planner/name/", typed)
        self.assertEqual(CoatRecipe.objects.get(formula="P2 S2").name, "Two and two")

    def test_a_run_on_its_pages(self):
        typed = {"batch": self.batch.pk, "coater": self.coater.pk, "fill": "half"}
        for screen, formula in self.chosen():
            typed |= {f"take_{screen.pk}": "on", f"formula_{screen.pk}": formula}
        self.assertContains(self.client.get("/coat/runs/", typed), "ml come back")
        wrong = self.client.post("/coat/runs/", typed | {f"formula_{self.screen().pk}": "P9"})
        self.assertContains(wrong, "more than 6", status_code=422)
        address = self.client.post("/coat/runs/", typed).url
        self.assertContains(self.client.get(address), "is coated")
        self.client.post(address, {"act": "coated"})
        self.client.post(address, {"act": "defect", "coat": Coat.objects.get().pk, "kind": "line"})
        self.assertContains(self.client.get(address), "light line")
        self.client.post(address, {"act": "coated"})
        refused = self.client.post(address, {"act": "finish", "returned_l": "0.3"})
        self.assertContains(refused, "Wash the coater at once", status_code=422)
        self.client.post(address, {"act": "finish", "returned_l": "0.3", "washed": "on"})
        self.assertContains(self.client.get(address), "Finished")

    def test_batches_and_coaters_on_their_pages(self):
        batch = f"/coat/batches/{self.batch.code}/"
        self.client.post(batch, {"act": "move", "kept_c": "6"})
        self.assertContains(self.client.get(batch), "Take it out of the cold")
        wrong = self.client.post(batch, {"act": "litres", "kind": "counted", "litres": "9"})
        self.assertContains(wrong, "The container holds 2.5 l", status_code=422)
        self.client.post(batch, {"act": "top_up", "code": "SD-30", "base_l": "0.2"})
        self.assertEqual(Batch.objects.get(code="SD-30").topped_from, self.batch)
        asked = {"base": "500", "ratio": "10", "remainder": "300", "remainder_age_days": "0"}
        mixed = self.client.get("/coat/batches/", asked)
        self.assertContains(mixed, "50 ml of sensitiser")
        self.client.post("/coat/coaters/", {"act": "check", "coater": self.coater.pk, "finding": "dried"})
        self.assertContains(self.client.get("/coat/coaters/"), "light lines along the stroke")
        self.assertContains(self.client.get("/coat/emulsions/", {"ink": "water"}), "yes")

    def test_a_lead_enters_an_emulsion(self):
        typed = {
            "name": "Plover Quick",
            "kind": "photopolymer",
            "solids": "42",
            "resists": "solvent",
            "suits": "dyed",
            "speed": "fast",
            "finest_um": "60",
            "colour": "#C58F8A",
            "exposed_colour": "#A8665F",
        }
        self.assertEqual(self.client.post("/coat/emulsions/new/", typed).status_code, 403)
        self.client.force_login(self.odile, backend="django.contrib.auth.backends.ModelBackend")
        for changed, words in (
            ({"name": "saltern dual"}, "called Saltern Dual already"),
            ({"solids": "420"}, "Solids"),
            ({"ratio": "0.2"}, "ratio"),
            ({"colour": "red"}, "#7FA99B"),
        ):
            with self.subTest(changed):
                page = self.client.post("/coat/emulsions/new/", typed | changed)
                self.assertContains(page, words, status_code=422)
        self.client.post("/coat/emulsions/new/", typed)
        made = Emulsion.objects.get(name="Plover Quick")
        self.assertAlmostEqual(made.solids, 0.42)
        self.client.post(f"/coat/emulsions/{made.pk}/", typed | {"solids": "40"})
        self.assertAlmostEqual(Emulsion.objects.get(pk=made.pk).solids, 0.4)
        asked = self.client.get("/coat/emulsions/", {"ink": "water", "dyed": "", "detail_um": "50"})
        for words in ("does not stand water-based ink", "is meant for dyed mesh", "holds 60 µm, 50 µm is wanted"):
            self.assertContains(asked, words)

    def test_a_batch_dated_after_now_coats_nothing(self):
        Batch.objects.update(mixed_at=timezone.now() + timedelta(days=1))
        with self.assertRaises(InvalidInput) as caught:
            coat_services.coat("Q-014", self.tamsin, formula="P1 S1", batch=Batch.objects.get(), air=Air(34, 0.4))
        self.assertIn("in the future", str(caught.exception))
