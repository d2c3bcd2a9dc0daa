"""What people type, by the thousand: every parser reads what its formatter writes and refuses the rest in words."""

import math
import unittest

from hypothesis import example, given, settings
from hypothesis import strategies as st

from frimble.core.coating.formula import parse_formula
from frimble.core.conclusions import InvalidInput
from frimble.core.mesh.geometry import Ambiguous, MeshSpec, parse_mesh
from frimble.core.numbers import read_number, read_numbers, read_ratio, read_seconds, show_number
from frimble.core.settings import HouseSettings
from frimble.core.units import read_quantity, show_seconds

HOUSE = HouseSettings()
TEXT = st.text(alphabet="0123456789.,:/-+eE~xPSrsminhcmT µ°%\"'", max_size=14) | st.text(max_size=14)
VALUES = st.floats(min_value=1e-9, max_value=1e9)


class NothingElseTests(unittest.TestCase):
    """Whatever is typed, a parser answers with a finite value or with a message."""

    def reads(self, parser, text):
        try:
            return parser(text)
        except InvalidInput as error:
            self.assertTrue(str(error))
            return None

    @given(TEXT)
    def test_numbers_times_ratios_and_quantities(self, text):
        for parser in (
            read_number,
            read_seconds,
            read_ratio,
            lambda t: read_quantity(t, "mm"),
            lambda t: read_quantity(t, "s"),
            lambda t: read_quantity(t, "°C"),
        ):
            value = self.reads(parser, text)
            self.assertTrue(value is None or math.isfinite(value), (text, value))
        values = self.reads(lambda t: read_numbers(t, "values"), text)
        self.assertTrue(values is None or (values and all(map(math.isfinite, values))))

    @given(st.lists(st.integers(0, 99999), min_size=2, max_size=6))
    def test_a_list_with_decimal_commas_is_the_one_with_points(self, tenths):
        with_points = " ".join(f"{n // 10}.{n % 10}" for n in tenths)
        for text in (with_points, with_points.replace(".", ","), with_points.replace(".", ",").replace(" ", "; ")):
            self.assertEqual(read_numbers(text, "values"), [n / 10 for n in tenths])
        self.assertEqual(read_numbers("8,10.5,12", "values"), read_numbers("8, 10.5, 12", "values"))
        self.assertEqual(read_numbers("8,10,12", "values"), [8, 10, 12])

    @given(TEXT)
    def test_meshes(self, text):
        mesh = self.reads(lambda t: parse_mesh(t, HOUSE), text)
        for spec in mesh.choices if isinstance(mesh, Ambiguous) else [mesh] if mesh else []:
            self.assertIsInstance(spec, MeshSpec)

    @given(TEXT)
    @example("P1 S1 / P1r")
    def test_coat_formulas_read_back_what_they_write(self, text):
        formula = self.reads(lambda t: parse_formula(t, HOUSE), text)
        if formula is not None:
            self.assertEqual(str(parse_formula(str(formula), HOUSE)), str(formula))


class RoundTripTests(unittest.TestCase):
    @given(VALUES, st.integers(1, 6))
    def test_a_number_is_read_as_it_is_shown(self, value, digits):
        # Source: the definition of significant figures, off by half a unit of the last one.
        shown = show_number(value, digits).replace(" ", "")
        self.assertNotIn("e", shown)
        self.assertAlmostEqual(read_number(shown) / value, 1, delta=0.5 * 10 ** (1 - digits) * 1.001)

    @given(st.floats(min_value=-1e6, max_value=1e6))
    def test_a_comma_is_a_point(self, value):
        text = f"{value:.4f}"
        self.assertEqual(read_number(text.replace(".", ",")), float(text))

    @settings(max_examples=300)
    @given(st.integers(100, 1199))
    def test_a_time_is_read_as_it_is_shown(self, seconds):
        self.assertEqual(read_seconds(show_seconds(seconds)), seconds)

    @given(st.integers(0, 999), st.integers(0, 59))
    def test_minutes_and_seconds_behind_a_colon(self, minutes, seconds):
        # Source: 60 seconds a minute.
        for text in (f"{minutes}:{seconds:02d}", f"{minutes} min {seconds} s", str(60 * minutes + seconds)):
            self.assertEqual(read_seconds(text), 60 * minutes + seconds)
            self.assertEqual(read_quantity(text, "s"), 60 * minutes + seconds)


class ExampleTests(unittest.TestCase):
    def test_small_numbers_keep_their_figures(self):
        self.assertEqual(show_number(1e-5), "0.00001")
        self.assertEqual(show_number(0.000123456), "0.000123")
        self.assertEqual(show_number(123456), "123 000")

    def test_times(self):
        for text, seconds in (
            ("90", 90),
            ("1:30", 90),
            ("1 min 30 s", 90),
            ("0:45", 45),
            ("1:02:03", 3723),
            ("2 min", 120),
        ):
            with self.subTest(text):
                self.assertEqual(read_seconds(text), seconds)
        for text in ("1:60", "1:5", "1:30:", "soon", "", "-1:30"):
            with self.subTest(text), self.assertRaises(InvalidInput):
                read_seconds(text)

    def test_ratios(self):
        # Common practice, no source. Ten parts of emulsion to one of sensitiser is written 10:1.
        self.assertEqual([read_ratio(t) for t in ("10", "10:1", "20:2", "7,5 : 1")], [10, 10, 10, 7.5])
        for text in ("10:0", "0:1", "10:1:1", "a:1", ""):
            with self.subTest(text), self.assertRaises(InvalidInput):
                read_ratio(text)

    def test_strokes_as_printers_write_them(self):
        # Common practice, no source. 1/1 is one stroke on each side; we say which side comes first.
        self.assertEqual(str(parse_formula("1/1", HOUSE)), "P1 S1")
        self.assertEqual(str(parse_formula("2/1", HOUSE)), "P2 S1")
        self.assertEqual(str(parse_formula("2:2", HouseSettings({"coat.first_side": "S"}))), "S2 P2")
        self.assertEqual(str(parse_formula("1/0", HOUSE)), "P1")
        with self.assertRaises(InvalidInput):
            parse_formula("0/0", HOUSE)
