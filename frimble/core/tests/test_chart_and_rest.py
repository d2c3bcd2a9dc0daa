import json
from dataclasses import replace
from datetime import datetime, timedelta

from frimble.core import cautions, units
from frimble.core.calculators import CALCULATORS, calculate
from frimble.core.conclusions import InvalidInput
from frimble.core.exposure.chart.times import CalibratedTime, Conditions, months_apart, time_for
from frimble.core.exposure.light.source import moved_words
from frimble.core.settings import GROUPS, MARKS, REGISTER, HouseSettings
from frimble.core.simulation.shop import SimulatedScreen, past
from frimble.core.storage import racks as rack_rules
from frimble.core.testing.case import CoreCase

NOW = datetime(2026, 11, 23, 10)
WANTED = Conditions("77-48 yellow", "P1 S1", "Saltern Dual", "Lantern A", "Inkjet dye")
CELL = CalibratedTime(WANTED, 12.1, 9.2, 16.2, NOW - timedelta(days=20), "Odile")


class ChartTests(CoreCase):
    def ask(self, cells=(CELL,), wanted=WANTED, batch="fresh"):
        return time_for(wanted, cells, NOW, self.house_settings, batch)

    def test_the_exact_cell_gives_its_time_with_who_and_when(self):
        result = self.ask()
        self.assertEqual((result.value, result.verdict), (12.1, "calibrated"))
        self.assertIn("accepted by Odile on 3 November 2026", result.reason)

    def test_months_apart_go_round_the_year(self):
        # By hand: June and December are as far apart as they can be; 380 days are half a month.
        self.assertAlmostEqual(months_apart(datetime(2026, 6, 1), datetime(2026, 12, 1)), 6, delta=0.1)
        self.assertAlmostEqual(months_apart(NOW, NOW - timedelta(days=380)), 0.5, delta=0.1)

    def test_any_other_condition_has_no_calibrated_time_and_names_the_nearest(self):
        # Common practice, no source. Every change of mesh, coat, emulsion, lamp or film moves the right time.
        for name in ("mesh", "formula", "emulsion", "lamp", "film_process"):
            with self.subTest(name):
                result = self.ask(wanted=replace(WANTED, **{name: "another"}))
                self.assertTrue(result.refused)
                self.assertIn(f"was for {getattr(WANTED, name)}".split(" for ")[0], result.reason)
                self.assertIn(getattr(WANTED, name), result.reason)
                self.assertIn("step test first", result.reason)

    def test_an_empty_chart_says_so(self):
        self.assertTrue(self.ask(cells=()).refused)

    def test_a_newer_acceptance_takes_the_place_of_an_older(self):
        older = replace(CELL, time_s=11.2, accepted_at=NOW - timedelta(days=90))
        self.assertEqual(self.ask(cells=(CELL, older)).value, 12.1)

    def test_doubts_are_told_at_the_moment_of_exposing(self):
        old = replace(CELL, accepted_at=NOW - timedelta(days=400))
        self.assertIn("400 days ago", self.ask(cells=(old,)).reason)
        self.assertIn("batch is ageing", self.ask(batch="ageing").reason)
        self.assertEqual(self.ask(batch="ageing").verdict, "test again soon")

    def test_a_lamp_that_was_moved(self):
        # Source: inverse-square law; from 400 to 600 mm wants (600/400)² = 2.25 times, under a small lamp alone.
        moved = lambda *where: moved_words(*where, self.house_settings)  # noqa: E731
        self.assertIn("×2.25", moved(400, 600, "point"))
        self.assertIn("light hardly falls with distance", moved(400, 600, "tubes"))
        for nothing in ((400, 401, "point"), (None, 600, "point"), (400, None, "sun")):
            self.assertEqual(moved(*nothing), "")


class SettingsTests(CoreCase):
    def test_every_setting_has_mark_group_reason_and_a_default_it_would_accept(self):
        for item in REGISTER.values():
            with self.subTest(item.key):
                self.assertIn(item.mark, MARKS)
                self.assertIn(item.group, GROUPS)
                self.assertTrue(item.reason.endswith("."))
                self.assertEqual(item.parse(str(item.default)), item.default)

    def test_a_changed_setting_changes_the_conclusion(self):
        from frimble.core.tension.measurement import judge

        self.assertEqual(judge(21, 21, 21, self.house_settings).verdict, "will do")
        self.assertEqual(judge(21, 21, 21, HouseSettings({"tension.poor_below": 21.5})).verdict, "poor")

    def test_values_outside_their_limits_are_refused_with_the_limits(self):
        with self.assertRaises(InvalidInput) as caught:
            REGISTER["tension.poor_below"].parse("240")
        self.assertIn("between 5 and 60 N/cm", str(caught.exception))
        for raw in ("", "much", "nan"):
            with self.subTest(raw), self.assertRaises(InvalidInput):
                REGISTER["tension.poor_below"].parse(raw)
        with self.assertRaises(InvalidInput):
            REGISTER["exposure.school"].parse("luck")
        with self.assertRaises(InvalidInput):
            HouseSettings({"no.such": 1})


class UnitsTests(CoreCase):
    def test_conversions_are_exact(self):
        # Source: international inch 25.4 mm and pound 0.45359237 kg; 1 pt = 1/72 in = 0.353 mm.
        self.assertAlmostEqual(units.read_quantity("2 in", "mm"), 50.8)
        # Source: ISO 80000-3, minute and hour.
        for text, seconds in (("1 min 30 s", 90), ("1 h 20min", 4800), ("6 min", 360), ("1min30s", 90), ("14,6", 14.6)):
            self.assertAlmostEqual(units.read_quantity(text, "s"), seconds)
        for text in ("2 min 3", "1 min -3 s", "5 s s", "1 min 30 mm"):
            with self.subTest(text), self.assertRaises(InvalidInput):
                units.read_quantity(text, "s")
        self.assertAlmostEqual(units.read_quantity("1 pt", "mm"), 0.3528, places=4)
        self.assertAlmostEqual(units.read_quantity("1 lb", "g"), 453.59237)
        self.assertAlmostEqual(units.read_quantity("110/in", "/cm"), 43.307, places=3)
        # Source: definition of the Fahrenheit scale; plastisol's 320 °F is 160 °C.
        self.assertAlmostEqual(units.read_quantity("320 F", "°C"), 160)
        self.assertAlmostEqual(units.fahrenheit(100), 212)

    def test_a_sizes_are_those_of_the_standard(self):
        # Source: ISO 216: A4 is 210 × 297 mm, A3 297 × 420 mm.
        self.assertEqual(units.a_size_mm("A4"), (210, 297))
        self.assertEqual(units.a_size_mm("A3"), (297, 420))
        self.assertInvalidInput("sheet", "A0 to A6", units.a_size_mm, "A9")

    def test_other_kinds_and_words_are_refused(self):
        self.assertInvalidInput("value", "cannot be read as mm", units.read_quantity, "3 s", "mm")
        self.assertInvalidInput("value", "not a number", units.read_quantity, "wide", "mm")

    def test_times_are_said_as_people_say_them(self):
        said = [units.show_seconds(t) for t in (0, 0.029, 14.62, 60, 75, 390, 720)]
        self.assertEqual(said, ["0 s", "0.03 s", "14.6 s", "60 s", "75 s", "6 min 30 s", "12 min"])


class StorageTests(CoreCase):
    SCREEN = rack_rules.ScreenFacts("Q-014", 580, 790, live_emulsion=True)
    SLOT = rack_rules.SlotFacts("D-01", 680, 930, dark=True)

    def why(self, screen=SCREEN, slot=SLOT):
        return rack_rules.why_not(screen, slot, self.house_settings)

    def test_a_coated_screen_goes_to_a_dark_free_slot_that_fits(self):
        # Common practice, no source. Coated screens stand in the dark; one place for one screen.
        self.assertEqual(self.why(), "")
        self.assertIn("open to light", self.why(slot=replace(self.SLOT, dark=False)))
        self.assertIn("holds Q-007", self.why(slot=replace(self.SLOT, taken_by="Q-007")))
        self.assertIn("910 × 1220 mm", self.why(screen=replace(self.SCREEN, width_mm=910, height_mm=1220)))
        self.assertEqual(self.why(screen=replace(self.SCREEN, width_mm=790, height_mm=580)), "", "turned, it fits")


class CautionTests(CoreCase):
    def test_the_steps_that_can_hurt_carry_a_caution_that_defers_to_local_codes(self):
        # Common practice, no source. Cautions at coat, expose, wash, press and reclaim.
        for step in ("coat", "expose", "wash", "press", "to_press", "from_press", "strip", "reclaim"):
            with self.subTest(step):
                result = cautions.for_step(step)
                self.assertTrue(result.points)
                self.assertIn("Local codes", result.closing)
        self.assertIsNone(cautions.for_step("inspect"))


class CalculatorTests(CoreCase):
    EXAMPLES = {
        "mesh": {"count": "43/cm", "thread_um": "80"},
        "read-mesh": {"text": "43-80 Y"},
        "halftone": {"count": "305/in", "thread_um": "34", "ruling_lpi": "55"},
        "moire": {"count": "90/cm", "ruling_lpi": "45", "dot_angle": "22.5"},
        "choose-mesh": {"ruling_lpi": "45"},
        "mix": {"base": 500, "ratio": 10, "remainder": 300, "remainder_age_days": 12},
        "eom": {"formula": "P1 S1", "fabric_um": 128, "solids": 0.4},
        "off-contact": {"span_mm": 500, "image_mm": 300, "tension_n_per_cm": 21},
        "ruling": {"viewed_m": 1, "count_per_cm": 90},
        "film-headroom": {"full_cure_s": "15", "work_s": "15", "dmax": "2.5", "dmin": "0"},
        "film-meter": {"without_film": "320", "with_film": "1"},
        "film-hold-out": {"gel_time_s": "3", "work_s": "15", "last_clear": "8", "first_scummed": "12"},
        "film-stack": {"densities": "1.45 1.45"},
        "film-cost": {"machine": "900", "life_films": "3000", "ink": "0.5", "sheet": "1.3", "spoilage": "0.1"},
        "units": {"value": "110/in", "to": "/cm"},
        "tension": {"warp": "24 25 24 25 24", "weft": "23 23 24 23 22"},
        "coat-formula": {"formula": "P1 S1 / P1r"},
        "emulsion-age": {"kind": "dual", "age_days": "10", "kept_c": "20"},
        "drying": {"mesh": "43-80", "formula": "P1 S1", "air_c": "35", "humidity": "0.4"},
        "steptest-plan": {"guess": "22"},
        "steptest-read": {"times": "44 33 25 18.7 14 10.5 8 6", "grades": "o o c c g g s u"},
        "factor-film": {"exposed_s": "120", "factors": "1 0.7 0.5 0.33 0.25", "best": "0.5"},
        "lamp-distance": {"time_s": "15", "old_mm": "400", "new_mm": "800"},
        "thickness": {"time_s": "15", "growth_um": "10", "penetration_um": "60"},
        "steps": {"state": "coated", "wet_minutes": "25"},
        "slot": {"width_mm": "580", "height_mm": "790", "slot_width_mm": "680", "slot_height_mm": "930"},
        "cautions": {"step": "expose"},
    }

    def test_every_calculator_answers_in_plain_json(self):
        self.assertEqual(set(self.EXAMPLES), set(CALCULATORS))
        for name, given in self.EXAMPLES.items():
            with self.subTest(name):
                answer = calculate(name, given, self.house_settings)
                self.assertEqual(json.loads(json.dumps(answer)), answer)

    def test_values_come_out_right(self):
        # Source: ISO 9044 by hand, as in the mesh tests.
        answer = calculate("mesh", self.EXAMPLES["mesh"], self.house_settings)
        self.assertAlmostEqual(answer["opening_um"], 152.558, places=3)
        # Common practice, no source. Two minutes × 0.5 = one minute.
        self.assertEqual(calculate("factor-film", self.EXAMPLES["factor-film"], self.house_settings)["value"], 60)

    def test_missing_unknown_and_unreadable_arguments_are_named(self):
        for field, name, given in (
            ("thread_um", "mesh", {"count": "43/cm"}),
            ("colour", "mesh", {"count": "43/cm", "thread_um": "80", "colour": "red"}),
            ("thread_um", "mesh", {"count": "43/cm", "thread_um": "eighty"}),
            ("name", "astrology", {}),
            ("grades", "steptest-read", {"times": "1 2 3", "grades": "u g"}),
        ):
            with self.subTest(name=name, given=given):
                self.assertInvalidInput(field, "", calculate, name, given, self.house_settings)


class SimulatedShopTests(CoreCase):
    def test_the_same_seed_tells_the_same_past_in_order_of_time(self):
        screens = [SimulatedScreen("Q-001", "photo", 300, 12, test_cycle=3), SimulatedScreen("Q-002", "photo", 90, 3)]
        first, second = past(screens, NOW, 5), past(screens, NOW, 5)
        self.assertEqual(first, second)
        self.assertEqual([r.at for r in first], sorted(r.at for r in first))
        self.assertTrue(all(r.at <= NOW for r in first))
        self.assertEqual(sum(r.kind == "reclaim" for r in first), 15)
        self.assertNotEqual(first, past(screens, NOW, 6))


class WorkingHoursTests(CoreCase):
    """# Common practice, no source: a shop works by day and rests on Sunday."""

    def test_nobody_records_at_night_or_on_sunday_and_records_stay_in_order(self):
        now = datetime(2026, 11, 27, 10, 30)
        screens = [SimulatedScreen(f"Q-{n:03d}", "photo", 200 + 9 * n, 4 + n, now_at="ready") for n in range(12)]
        records = past(screens, now, 5)
        self.assertGreater(len(records), 800)
        odd = [r for r in records if not 7 <= r.at.hour < 18 or r.at.weekday() == 6]
        self.assertEqual([f"{r.code} {r.kind} {r.at}" for r in odd if r.kind != "tension"], [])
        for screen in screens:
            numbers = [r.cycle for r in records if r.code == screen.code and r.cycle]
            self.assertEqual(numbers, sorted(numbers))
            self.assertLessEqual(max(r.at for r in records if r.code == screen.code), now)
