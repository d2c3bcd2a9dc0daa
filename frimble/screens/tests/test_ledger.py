from datetime import timedelta
from io import StringIO

from django.core.management import call_command
from django.test import TestCase
from django.utils import timezone

from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.core.instruments.tension_gauge import read_screen
from frimble.screens import ledger
from frimble.screens.models import Cycle, Screen, ScreenEvent, Slot
from frimble.screens.racks import services as rack_services
from frimble.screens.reclaim import services as reclaim_services
from frimble.screens.register import services as register_services
from frimble.screens.steps import services as step_services
from frimble.screens.tension import services as tension_services
from frimble.testing.records import record
from frimble.testing.shop import small_shop


class LedgerCase(TestCase):
    def setUp(self):
        self.people = small_shop()
        self.tamsin, self.odile = self.people["tamsin"], self.people["odile"]

    def screen(self, code="Q-014"):
        return Screen.objects.for_lists().get(frame__code=code)


class LedgerTests(LedgerCase):
    def test_a_step_out_of_order_is_refused_and_writes_nothing(self):
        with self.assertRaises(RuleViolation) as caught:
            step_services.strip("Q-014", self.tamsin)
        self.assertIn("there is no ink in it", caught.exception.reason)
        self.assertFalse(ScreenEvent.objects.exists())
        self.assertEqual(self.screen().revision, 0)

    def test_a_record_is_never_edited_or_deleted(self):
        event = step_services.degrease("Q-014", self.tamsin, dwell_s=30)
        event.summary = "something else"
        for attempt in (
            event.save,
            event.delete,
            ScreenEvent.objects.all().delete,
            lambda: ScreenEvent.objects.update(summary="x"),
        ):
            with self.assertRaises(TypeError):
                attempt()

    def test_the_second_of_two_people_is_told_what_the_first_did(self):
        opened = self.screen().revision
        step_services.degrease("Q-014", self.tamsin, dwell_s=30, revision=opened)
        with self.assertRaises(ledger.Conflict) as caught:
            step_services.degrease("Q-014", self.people["bertrand"], dwell_s=25, revision=opened)
        self.assertIn("Tamsin", str(caught.exception))
        self.assertIn("Degreased, 30 s dwell", str(caught.exception))
        self.assertEqual(caught.exception.revision, self.screen().revision)

    def test_a_revision_that_no_page_ever_had_is_a_conflict_like_any_other(self):
        step_services.degrease("Q-014", self.tamsin, dwell_s=30)
        # Source: SQLite, Datatypes: whole numbers have 64 bits.
        for revision in (-(2**63) - 1, -1, 2**64):
            with self.subTest(revision), self.assertRaises(ledger.Conflict) as caught:
                ledger.take_back("Q-014", self.tamsin, "wrong screen", revision)
            self.assertIn("Degreased, 30 s dwell", str(caught.exception))

    def test_taking_back_strikes_the_record_and_restores_the_state(self):
        first = step_services.degrease("Q-014", self.tamsin, dwell_s=30)
        back = ledger.take_back("Q-014", self.tamsin, "wrong screen")
        self.assertEqual(back.replaces, first)
        self.assertEqual(self.screen().state, "bare")
        self.assertEqual(ledger.differences(self.screen()), [])
        with self.assertRaises(InvalidInput):
            ledger.take_back("Q-014", self.tamsin, "again")

    def test_a_reclaim_taken_back_reopens_the_cycle(self):
        self.to_stripped()
        reclaim_services.reclaim("Q-014", self.tamsin, rounds=1, minutes=8, outcome="clean")
        self.assertIsNone(self.screen().open_cycle)
        ledger.take_back("Q-014", self.tamsin, "ghost seen after all")
        self.assertEqual((self.screen().state, self.screen().cycles), ("stripped", 0))
        self.assertIsNotNone(self.screen().open_cycle)

    def test_taken_back_beyond_a_first_step_a_screen_goes_on_in_the_cycle_before_it(self):
        self.to_stripped()
        record("Q-014", "reclaim", self.tamsin, summary="bare again")
        record("Q-014", "degrease", self.tamsin, summary="degrease")
        for _ in ("degrease", "reclaim"):
            ledger.take_back("Q-014", self.tamsin, "wrong screen")
        self.assertEqual((self.screen().state, self.screen().open_cycle.number), ("stripped", 1))
        again = record("Q-014", "reclaim", self.tamsin, summary="bare again")
        self.assertEqual((again.cycle.number, again.cycle.closed_at), (1, again.at))
        first = record("Q-014", "degrease", self.tamsin, summary="degrease")
        self.assertEqual((first.cycle.number, first.cycle.started_at), (2, first.at))
        self.assertEqual(Cycle.objects.count(), 2)
        self.assertEqual(ledger.differences(self.screen()), [])

    def to_stripped(self):
        for kind, facts in (
            ("degrease", {}),
            ("coat", {"layer": 1, "layers": 1}),
            ("expose", {}),
            ("wash", {}),
            ("inspect", {"passed": True}),
            ("to_press", {}),
            ("from_press", {}),
            ("strip", {}),
        ):
            record("Q-014", kind, self.tamsin, summary=kind, facts=facts)

    def test_a_cycle_bears_what_its_records_come_to(self):
        for kind in ("degrease", "coat"):
            record("Q-014", kind, self.tamsin, summary=kind)
        cycle = self.screen().open_cycle
        self.assertEqual((sorted(cycle.last_min), cycle.lost), (["coat", "degrease"], ""))
        reclaimed = record("Q-014", "reclaim", self.tamsin, summary="bare again")
        cycle.refresh_from_db()
        self.assertEqual((cycle.lost, cycle.lost_at, cycle.closed_at), ("coat", reclaimed.at, reclaimed.at))
        ledger.take_back("Q-014", self.tamsin, "wrong screen")
        cycle.refresh_from_db()
        self.assertEqual((cycle.lost, cycle.lost_at, cycle.closed_at), ("", None, None))
        self.assertEqual(ledger.differences(self.screen()), [])

    def test_a_mesh_bears_when_it_came_off_until_that_is_taken_back(self):
        off = record("Q-014", "take_off", self.tamsin, summary="slack")
        mesh = self.screen().installation
        self.assertEqual(mesh.ended_at, off.at)
        ledger.take_back("Q-014", self.tamsin, "wrong screen")
        mesh.refresh_from_db()
        self.assertIsNone(mesh.ended_at)

    def test_cycles_written_past_the_ledger_are_brought_up_to_date(self):
        self.to_stripped()
        before = Cycle.objects.values().get()
        Cycle.objects.update(last_min={}, coated_at=None, lost="coat", lost_at=timezone.now())
        self.assertEqual(len(ledger.differences(self.screen())), 4)
        ledger.summarize_lives()
        self.assertEqual(Cycle.objects.values().get(), before)

    def test_a_wet_mesh_is_coated_only_by_a_lead_with_a_reason_that_is_kept(self):
        step_services.degrease("Q-014", self.tamsin, dwell_s=30)
        facts = {"layer": 1, "layers": 1}
        for person, reason in ((self.tamsin, ""), (self.tamsin, "in a hurry"), (self.odile, "")):
            with self.assertRaises(RuleViolation):
                record("Q-014", "coat", person, summary="coat", facts=facts, override_reason=reason)
        event = record("Q-014", "coat", self.odile, summary="coat", facts=facts, override_reason="blown dry")
        self.assertEqual(event.override_reason, "blown dry")

    def test_records_of_the_future_are_refused(self):
        with self.assertRaises(InvalidInput):
            record("Q-014", "degrease", self.tamsin, summary="x", at=timezone.now() + timedelta(hours=1))

    def test_verify_reports_a_projection_that_was_tampered_with(self):
        step_services.degrease("Q-014", self.tamsin, dwell_s=30)
        out = StringIO()
        call_command("verify", stdout=out)
        self.assertIn("4 screens checked, 0 differences", out.getvalue())
        Screen.objects.filter(frame__code="Q-014").update(state="ready")
        with self.assertRaises(SystemExit):
            call_command("verify", stdout=out)
        self.assertIn("Q-014: state is stored as", out.getvalue())


class PlaceTests(LedgerCase):
    def slot(self, code):
        return Slot.objects.select_related("rack", "screen__frame").get(code=code)

    def test_one_place_for_one_screen(self):
        rack_services.place("Q-014", self.slot("A-01"), self.tamsin)
        with self.assertRaises(RuleViolation) as caught:
            rack_services.place("Q-015", self.slot("A-01"), self.tamsin)
        self.assertIn("A-01 holds Q-014", caught.exception.reason)

    def test_a_step_takes_the_screen_out_of_its_slot(self):
        rack_services.place("Q-014", self.slot("A-01"), self.tamsin)
        step_services.degrease("Q-014", self.tamsin, dwell_s=30)
        self.assertIsNone(self.screen().slot)
        rack_services.place("Q-015", self.slot("A-01"), self.tamsin)

    def test_a_slot_taken_meanwhile_is_not_given_back(self):
        rack_services.place("Q-014", self.slot("A-01"), self.tamsin)
        step_services.degrease("Q-014", self.tamsin, dwell_s=30)
        rack_services.place("Q-015", self.slot("A-01"), self.tamsin)
        with self.assertRaises(RuleViolation) as caught:
            ledger.take_back("Q-014", self.tamsin, "slip")
        self.assertIn("taken meanwhile", caught.exception.reason)
        self.assertEqual(self.screen().state, "degreased")

    def test_a_live_coat_goes_to_the_dark(self):
        step_services.degrease("Q-014", self.tamsin, dwell_s=30)
        step_services.record_mesh_dry("Q-014", self.tamsin)
        record("Q-014", "coat", self.tamsin, summary="coat", facts={"layer": 1, "layers": 1})
        with self.assertRaises(RuleViolation) as caught:
            rack_services.place("Q-014", self.slot("A-01"), self.tamsin)
        self.assertIn("open to light", caught.exception.reason)
        rack_services.place("Q-014", self.slot("D-01"), self.tamsin)
        self.assertEqual(self.screen().slot.code, "D-01")


class RegisterTests(LedgerCase):
    def register(self, code="Q-100", width=580, height=790):
        mesh = self.screen().mesh
        return register_services.register_screen(code, "aluminium", width, height, mesh, "photo", self.tamsin)

    def test_a_code_that_exists_and_an_impossible_size_are_refused(self):
        for field, named in (
            ("code", {"code": "q-014"}),
            ("width_mm", {"width": 58}),
            ("height_mm", {"height": 99999}),
        ):
            with self.subTest(field), self.assertRaises(InvalidInput) as caught:
                self.register(**named)
            self.assertEqual(caught.exception.field, field)

    def test_tension_is_stored_with_its_readings_and_projected(self):
        readings = read_screen(24, seed=3)
        measurement = tension_services.record_tension("Q-014", readings, self.tamsin)
        self.assertEqual(measurement.values.count(), 20)
        self.assertAlmostEqual(self.screen().tension_n_per_cm, measurement.mean, places=2)
