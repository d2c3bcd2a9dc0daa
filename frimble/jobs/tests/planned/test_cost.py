"""What a job costs, from its records."""

from datetime import timedelta

from django.utils import timezone

from frimble.coatings.models import Batch, BatchRecord, Coat, Coater, CoatingRun, Emulsion, RunScreen
from frimble.films.models import Film, FilmProcess
from frimble.jobs.cost.queries import _predicted_l
from frimble.jobs.models import Job, ScreenNeed
from frimble.people import settings as house_settings
from frimble.people.models import HouseSetting
from frimble.screens.models import MeshType, Screen, ScreenEvent
from frimble.testing.case import PageCase
from frimble.testing.shop import small_shop


class CostPageTests(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.client.force_login(self.people["tamsin"])
        self.mesh = MeshType.objects.get(thermal=False)

    def need(self, **more):
        given = {"job": Job.objects.get(), "mesh": self.mesh, "formula": "P1 S1", "colour": "gold"} | more
        return ScreenNeed.objects.create(**given)

    def test_without_colours_or_emulsion_it_says_what_is_missing(self):
        self.assertContains(self.client.get("/jobs/J-301/cost/"), "The job")
        self.assertContains(self.client.get("/jobs/J-301/cost/"), "Nothing to work out yet")
        self.need()
        Batch.objects.all().delete()
        self.assertContains(self.client.get("/jobs/J-301/cost/"), "No emulsion is open")

    def test_what_has_no_price_is_named_and_left_out(self):
        self.need()
        page = self.client.get("/jobs/J-301/cost/")
        found = page.context["cost"]
        self.assertEqual(set(found.unknown), {"film", "emulsion", "wear of the mesh", "reclaim chemicals", "ink"})
        self.assertContains(page, "Left out, because they have no price or size here")
        # Source: by hand: hands alone, 48 min at 0.60, no stencil lost.
        self.assertAlmostEqual(found.money, 28.8)

    def test_with_prices_a_print_costs_its_share_and_changes_are_told(self):
        process = FilmProcess.objects.get()
        costs = {"machine_price": 600, "life_films": 3000, "ink_a_film": 0.5, "sheet_a_film": 0.9, "spoilage": 0}
        FilmProcess.objects.update(**costs)
        Emulsion.objects.update(cost_l=30)
        HouseSetting.objects.create(
            key="cost.ink_l",
            value="20",
            reason="bill",
            changed_by=self.people["odile"],
            changed_at=process.history.first().history_date,
        )
        made = {"made_at": Batch.objects.get().mixed_at, "made_by": self.people["odile"]}
        film = Film.objects.create(name="Pennant", process=process, width_mm=200, height_mm=300, **made)
        MeshType.objects.create(count_per_cm=43, thread_um=80)
        self.need(film=film)
        page = self.client.get("/jobs/J-301/cost/", {"prints": "200"})
        found = page.context["cost"]
        (screen,) = found.screens
        lines = {line.label: line.money for line in screen.lines}
        # Source: by hand: 600 / 3000 + 0.5 + 0.9.
        self.assertAlmostEqual(lines["film"], 1.6)
        self.assertAlmostEqual(found.a_print, found.money / 200)
        words = [words for _, words in page.context["changes"]]
        self.assertIn("gold on 43-80 white", words)
        self.assertIn("gold from a kept stencil", words)
        self.assertContains(page, "200 prints")

    def test_a_number_of_prints_that_cannot_be_is_told(self):
        self.need()
        self.assertEqual(self.client.get("/jobs/J-301/cost/", {"prints": "none"}).status_code, 422)

    def test_real_use_of_emulsion_comes_from_what_was_poured(self):
        # Source: by hand: three times the predicted litres poured and one returned in each of four runs.
        self.need()
        Emulsion.objects.update(cost_l=30)
        before = self.emulsion()
        settings, batch, now = house_settings.current(), Batch.objects.get(), timezone.now()
        screen = Screen.objects.get(frame__code="Q-014")
        installation = screen.installation
        coater = Coater.objects.create(name="Wide", length_mm=300)
        for number in range(4):
            at = now - timedelta(days=3 + 7 * number)
            event = ScreenEvent.objects.create(
                installation=installation, kind="coat", at=at, by=self.people["odile"], summary="Coated"
            )
            air = {"air_c": 20, "humidity": 0.5, "dry_min": 60, "dry_low_min": 40, "dry_high_min": 90}
            coat = Coat.objects.create(event=event, batch=batch, formula="P1 S1", layer=1, **air)
            run = CoatingRun.objects.create(
                batch=batch, coater=coater, fill="half", by=self.people["odile"], started_at=at, ended_at=at
            )
            RunScreen.objects.create(run=run, screen=screen, number=1, formula="P1 S1", coat=coat)
            for kind, times in (("poured", 3), ("returned", 1)):
                litres = times * _predicted_l(coat, settings)
                BatchRecord.objects.create(
                    batch=batch, kind=kind, litres=litres, run=run, at=at, by=self.people["odile"]
                )
        self.assertAlmostEqual(self.emulsion() / before, 2.0, places=3)
        self.assertContains(self.client.get("/jobs/J-301/cost/"), "2.00 × predicted by what was poured")

    def emulsion(self):
        screen = self.client.get("/jobs/J-301/cost/").context["cost"].screens[0]
        return next(line.money for line in screen.lines if line.label == "emulsion")


class SessionPageTests(PageCase):
    def test_a_session_is_told_with_its_waiting(self):
        self.client.force_login(small_shop()["ines"])
        self.assertContains(self.client.get("/jobs/J-301/session/"), "How long at the press?")
        given = {"pieces": "24", "pads": "3", "colours": "4", "print_s": "25", "dry_s": "90"}
        page = self.client.get("/jobs/J-301/session/", given)
        # Source: by hand: 8 rounds of 4 × 3 × 25 s and 3 × 40 s of waiting.
        self.assertEqual(page.context["session"].total_s, 8 * (300 + 120))
        self.assertContains(page, "with 5 pads none would be")
        self.assertEqual(self.client.get("/jobs/J-301/session/", given | {"pads": "0"}).status_code, 422)
