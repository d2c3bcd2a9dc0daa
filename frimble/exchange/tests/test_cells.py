"""Cells of a package: what is written is read again as it was, and what breaks its column's rule is said."""

from datetime import UTC, date, datetime

from django.db import models
from hypothesis import given
from hypothesis import strategies as some
from hypothesis.extra.django import SimpleTestCase

from frimble.coatings.models import CoatThickness, Emulsion
from frimble.exchange.packages.cells import value_of
from frimble.exchange.packages.upgrades import upgraded
from frimble.exchange.packages.writing import _text
from frimble.exposures.models import LampRecord
from frimble.jobs.models import Job, PlannedDay, ScreenNeed
from frimble.press.models import PressVisit
from frimble.screens.models import Frame
from frimble.stencils.models import Washout

_WORDS = some.text(some.characters(exclude_categories=["Cs"], exclude_characters="\x00"), max_size=40)
_MEASURED = some.floats(-1e12, 1e12)
_JSON = some.recursive(
    some.none()
    | some.booleans()
    | some.integers(-(2**53), 2**53)
    | some.floats(allow_nan=False, allow_infinity=False)
    | _WORDS,
    lambda inner: some.lists(inner, max_size=3) | some.dictionaries(_WORDS, inner, max_size=3),
    max_leaves=8,
)


class RoundTripTests(SimpleTestCase):
    def comes_back(self, value, field):
        self.assertEqual(value_of(_text(value, field), field), value)

    @given(_MEASURED)
    def test_numbers(self, value):
        self.comes_back(value, models.FloatField())

    @given(some.integers(-(2**63), 2**63 - 1))
    def test_whole_numbers(self, value):
        self.comes_back(value, models.BigIntegerField())

    @given(some.booleans())
    def test_yes_and_no(self, value):
        self.comes_back(value, models.BooleanField())

    @given(_WORDS.filter(lambda words: words != "\\N"))
    def test_words(self, value):
        self.comes_back(value, models.CharField(max_length=40))

    @given(some.datetimes(datetime(1970, 1, 2), datetime(2100, 1, 1), timezones=some.just(UTC)))
    def test_moments(self, value):
        self.comes_back(value, models.DateTimeField())

    @given(some.dates(date(1900, 1, 1), date(2100, 1, 1)))
    def test_days(self, value):
        self.comes_back(value, models.DateField())

    @given(some.uuids())
    def test_uuids(self, value):
        self.comes_back(value, models.UUIDField())

    @given(_JSON.filter(lambda value: value is not None))
    def test_objects(self, value):
        self.comes_back(value, models.JSONField())

    def test_nothing_is_no_empty_word(self):
        self.comes_back(None, models.CharField(max_length=4, null=True))
        self.comes_back("", models.CharField(max_length=4, null=True))
        self.comes_back(None, models.FloatField(null=True))


class RefusedTests(SimpleTestCase):
    def test_each_rule_is_said(self):
        # Source: Frictionless Data, Table Schema: boolean, integer, number, datetime, date; RFC 8259: JSON has no NaN.
        for field, texts, words in (
            (models.FloatField(), ("nan", "inf", "-inf", "1e999", "1,5", "٣", "x", " "), "no finite number"),
            (models.IntegerField(), ("1.0", "٣", "²", "x", str(2**63), str(-(2**63) - 1)), "no whole number"),
            (models.BooleanField(), ("True", "1", "yes"), "neither true nor false"),
            (models.DateTimeField(), ("2026-11-29", "2026-11-29T12:00:00", "never"), "no moment with its offset"),
            (models.DateField(), ("29.11.2026", "soon"), "no day"),
            (models.UUIDField(), ("1234", "x" * 32), "no UUID"),
            (models.JSONField(), ("[NaN]", '{"a": Infinity}'), "holds"),
            (models.JSONField(), ("[" * 100_000,), "nested too deep"),
            (models.CharField(max_length=3), ("four",), "longer than 3"),
            (models.CharField(max_length=3, choices=[("a", "A")]), ("b",), "is none of a"),
            (models.CharField(max_length=9), ("a\x00b",), "a character that no text has"),
            (models.FloatField(), ("",), "may not be empty"),
            (models.FloatField(), ("1e300", "-1e13"), "more than anything that is measured"),
            (models.PositiveIntegerField(), (str(2**31), str(2**63 - 1)), "more than anything that is counted"),
            (models.DateField(), ("0001-01-01", "9999-12-31"), "is in no year from"),
            (models.DateTimeField(), ("0001-01-01T00:00:00+00:00", "9999-12-31T23:59:59+00:00"), "is in no year from"),
            (models.CharField(max_length=3, choices=[("a", "A")]), ("",), "is none of a"),
            (Frame._meta.get_field("code"), ("q 14", "-Q"), "Capitals, digits and dashes"),
            (Frame._meta.get_field("outer_width_mm"), ("0", "-580"), "More than 0 is wanted"),
            (Washout._meta.get_field("rinse_s"), ("-1",), "Not less than 0 is wanted"),
            (
                CoatThickness._meta.get_field("readings_um"),
                ("{}", '["x"]', "[true]", "5"),
                "A list of numbers is wanted",
            ),
            (LampRecord._meta.get_field("field"), ("[1]", "[[1, 2], [3]]", "{}"), "Rows of as many numbers each"),
            (PressVisit._meta.get_field("passed_over"), ("[1]", '"tension"'), "A list of words is wanted"),
            (PlannedDay._meta.get_field("plan"), ("[]",), "Values by their names are wanted"),
            (PlannedDay._meta.get_field("plan"), ('{"start": ""}',), "end is missing"),
            (PlannedDay._meta.get_field("plan"), ("null",), "may not be empty"),
            (Emulsion._meta.get_field("solids"), ("1.01", "42"), "A share from 0 to 1 is wanted"),
        ):
            for text in texts:
                with self.subTest(field=type(field).__name__, text=text[:20]):
                    with self.assertRaises(ValueError) as refusal:
                        value_of(text, field)
                    self.assertIn(words, str(refusal.exception))


class HourTests(SimpleTestCase):
    field = Job._meta.get_field("press_time")

    @given(some.times())
    def test_an_hour_is_read_as_it_was_written(self, hour):
        # Source: ISO 8601, time of day.
        self.assertEqual(value_of(_text(hour, self.field), self.field), hour)

    def test_no_hour_stays_none_and_what_is_no_hour_is_told(self):
        self.assertIsNone(value_of("", self.field))
        for words in ("25:00", "noon", "\\N"):
            with self.subTest(words), self.assertRaisesRegex(ValueError, "time of day"):
                value_of(words, self.field)


class AddedTests(SimpleTestCase):
    def test_a_need_of_the_version_before_has_no_colour_film_or_screen(self):
        headings = ["id", "job_id", "mesh_id", "formula", "number"]
        headings, rows = upgraded(5, "jobs.screenneed", headings, [["1", "2", "3", "P1 S1", "4"]])
        fields = {f.attname: f for f in ScreenNeed._meta.concrete_fields}
        read = {name: value_of(words, fields[name]) for name, words in zip(headings, rows[0], strict=True)}
        self.assertEqual((read["position"], read["colour"], read["film_id"], read["frame_id"]), (0, "", None, None))
