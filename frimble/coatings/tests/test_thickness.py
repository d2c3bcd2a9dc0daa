"""Emulsion over mesh recorded, learned from and told before the next coat."""

from datetime import timedelta

from django.test import override_settings
from django.utils import timezone

from frimble.coatings.coats.queries import current_coat
from frimble.coatings.coats.services import coat, note_defect
from frimble.coatings.models import Batch, CoatThickness
from frimble.coatings.planner import outcomes
from frimble.coatings.thickness import queries as thickness_queries
from frimble.core.coating.drying import Air
from frimble.core.coating.formula import parse_formula
from frimble.people import settings as house_settings
from frimble.people.tests.test_cached import KEEPING
from frimble.screens.ledger import differences, take_back
from frimble.screens.models import Screen, ScreenEvent
from frimble.testing.case import PageCase
from frimble.testing.records import record
from frimble.testing.shop import small_shop


class ThicknessCase(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.client.force_login(self.people["tamsin"])

    def screen(self, code="Q-014"):
        return Screen.objects.for_lists().get(frame__code=code)

    def coated(self, code="Q-014", dry=True):
        person = self.people["odile"]
        record(code, "degrease", person, summary="Degreased")
        coat(code, person, formula="P1 S1", batch=Batch.objects.get(), air=Air(35, 0.4))
        if dry:
            Screen.objects.filter(frame__code=code).update(wet_until=timezone.now() - timedelta(minutes=1))

    def send(self, **typed):
        given = {"bare_um": "77", "coated_um": "96 97.5 95", "revision": self.screen().revision, "note": ""} | typed
        return self.client.post("/coat/Q-014/thickness/", given)


class ThicknessTests(ThicknessCase):
    def test_readings_become_emulsion_over_mesh(self):
        self.coated()
        self.assertContains(self.client.get("/coat/Q-014/thickness/"), "100 % common practice")
        self.assertRedirects(self.send(), "/screens/Q-014/")
        taken = CoatThickness.objects.get()
        # Source: arithmetic; the mean of 96, 97.5 and 95 less 77.
        self.assertAlmostEqual(taken.eom_um, 288.5 / 3 - 77)
        self.assertContains(self.client.get("/screens/Q-014/"), "Emulsion over mesh 19 µm, 25 % of the mesh, heavy")
        self.assertEqual(self.screen().state, "coated")

    def test_what_was_measured_moves_what_is_expected(self):
        settings = house_settings.current()
        formula, emulsion = parse_formula("P1 S1", settings), Batch.objects.get().emulsion
        before = thickness_queries.expected(self.screen().mesh, formula, emulsion, settings)
        self.coated()
        for readings in ("109 110 108", "111 112 110"):
            self.send(coated_um=readings)
        after = thickness_queries.expected(self.screen().mesh, formula, emulsion, settings)
        self.assertGreater(after.value, before.value * 1.5)
        self.assertLess(after.high / after.low, before.high / before.low)
        self.assertIn("2 coats measured here", after.rests_on)
        answer = self.client.get(
            "/coat/Q-015/preview/?formula=P1+S1&air_c=35&humidity=40&batch=" + str(Batch.objects.get().pk)
        )
        self.assertIn("2 coats measured here", answer.json()["eom"])

    def test_what_cannot_be_is_told_and_nothing_is_kept(self):
        self.assertContains(self.client.get("/coat/Q-014/thickness/"), "no coat on it to measure")
        self.coated(dry=False)
        Screen.objects.filter(frame__code="Q-014").update(wet_until=timezone.now() + timedelta(hours=1))
        self.assertContains(self.send(), "The coat is wet", status_code=422)
        Screen.objects.filter(frame__code="Q-014").update(wet_until=None)
        for typed, word in (
            ({"coated_um": "60 61"}, "thinner than the bare mesh"),
            ({"coated_um": "thick"}, "not"),
            ({"bare_um": "0"}, "between 10"),
            ({"coated_um": "9000"}, "between 10"),
        ):
            self.assertContains(self.send(**typed), word, status_code=422)
        self.assertFalse(CoatThickness.objects.exists())

    def test_the_gauge_and_the_ledger_agree(self):
        self.coated()
        answer = self.client.get("/coat/Q-014/thickness/gauge/").json()
        self.assertRedirects(self.send(**answer["values"], simulated="True"), "/screens/Q-014/")
        self.assertTrue(CoatThickness.objects.get().simulated)
        Screen.objects.filter(frame__code="Q-014").update(wet_until=None)
        result = [d for d in differences(self.screen()) if "wet_until" not in d]
        self.assertEqual(result, [])


@override_settings(CACHES=KEEPING)
class KeptTests(ThicknessCase):
    """What coats have taught is kept, and never tells less than is on record."""

    def setUp(self):
        super().setUp()
        for kept in (thickness_queries.CACHED, outcomes.CACHED):
            kept.invalidate()
            self.addCleanup(kept.invalidate)

    def known(self):
        settings = house_settings.current()
        emulsion = Batch.objects.get().emulsion
        return thickness_queries.expected(
            self.screen().mesh, parse_formula("P1 S1", settings), emulsion, settings
        ).rests_on

    def test_a_coat_is_learned_from_as_soon_as_it_is_measured_and_no_longer_when_that_is_taken_back(self):
        self.coated()
        before = self.known()
        self.send()
        self.assertIn("1 coat", self.known())
        take_back("Q-014", self.people["odile"], "a slip")
        self.assertEqual(self.known(), before)
        self.assertIsNone(outcomes.formulas_on(self.screen().mesh)[0].eom_um)

    def test_a_mesh_measured_otherwise_is_learned_from_anew(self):
        self.coated()
        self.send()
        learned = thickness_queries.learned(house_settings.current())
        self.assertIs(type(thickness_queries.CACHED.get(lambda: None, house_settings.current())), type(learned))
        mesh = self.screen().mesh
        mesh.fabric_thickness_um = 90
        mesh.save()
        self.assertIsNone(thickness_queries.CACHED.get(lambda: None, house_settings.current()))

    def test_the_year_knows_a_coat_its_fault_and_its_measuring_at_once(self):
        tell = lambda: outcomes.formulas_on(self.screen().mesh)[0]  # noqa: E731
        self.assertEqual(outcomes.last_year().laid, [])
        self.coated()
        self.assertEqual((tell().coats, tell().faulty, tell().eom_um), (1, 0, None))
        note_defect(current_coat(self.screen()), "bead", self.people["odile"])
        self.send()
        self.assertEqual((tell().coats, tell().faulty), (1, 1))
        self.assertAlmostEqual(tell().eom_um, 288.5 / 3 - 77)
        event = current_coat(self.screen()).event
        ScreenEvent.objects.create(
            installation=event.installation,
            cycle=event.cycle,
            kind="inspect",
            at=timezone.now(),
            by=event.by,
            summary="failed",
            facts={"passed": False},
        )
        self.assertEqual(tell().failed, 1)
