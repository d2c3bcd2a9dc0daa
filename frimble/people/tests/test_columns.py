"""Rows hold to their columns: what a package may not bring, a page cannot store."""

from django.apps import apps
from django.core.exceptions import ValidationError
from django.db import models
from django.test import SimpleTestCase, TestCase
from hypothesis import given
from hypothesis import strategies as some

from frimble.core.conclusions import InvalidInput
from frimble.films.models import FilmProcess
from frimble.people.records import fields, validators
from frimble.screens.models import Frame

OWN = [m for m in apps.get_models() if m.__module__.startswith("frimble.")]
# Where something lies or how warm it is may be less than nothing.
_SIGNED = ("x_mm", "y_mm", "_deg", "_c")
_MEASURED = ("_mm", "_um", "_s", "_min", "_per_cm", "_cm")


class ValidatorTests(SimpleTestCase):
    def refused(self, rule, value):
        with self.assertRaises(ValidationError):
            rule(value)

    @given(some.floats(allow_nan=False))
    def test_numbers_are_told_apart_by_their_sign(self, value):
        # Source: arithmetic.
        for rule, fits in (
            (validators.positive, value > 0), (validators.not_negative, value >= 0), (validators.share, 0 <= value <= 1),
        ):  # fmt: skip
            if fits:
                rule(value)
            else:
                self.refused(rule, value)

    def test_what_is_no_number_is_no_length(self):
        # Source: IEEE 754: not a number is neither more nor less than anything.
        for rule in (validators.positive, validators.not_negative, validators.share):
            self.refused(rule, float("nan"))

    def test_shapes_of_json(self):
        # Source: RFC 8259: arrays, objects, numbers, strings, true, false and null.
        for rule, fitting, others in (
            (validators.numbers, ([], [1, 2.5]), ([None], [True], ["1"], {}, 3, None)),
            (validators.numbers_with_gaps, ([1, None],), ([False], "12")),
            (validators.rows_of_numbers, ([], [[1, 2], [3, 4]]), ([1, 2], [[1], [2, 3]], [["1"]], {})),
            (validators.words, ([], ["a"]), ("a", [1], {"a": 1})),
            (validators.rows_of_words, ([["a", "b"], ["c"]],), (["a"], [[1]])),
            (validators.Holding("a"), ({"a": None}, {"a": 1, "b": 2}), ({}, {"b": 1}, [], "a", None)),
        ):
            for value in fitting:
                rule(value)
            for value in others:
                with self.subTest(rule=rule, value=value):
                    self.refused(rule, value)


class ColumnTests(TestCase):
    def test_what_breaks_a_rule_is_not_saved_and_its_column_is_named(self):
        process = FilmProcess(name="Made up", spoilage=0.5)
        process.save()
        process.spoilage = 335.6
        with self.assertRaisesMessage(InvalidInput, "Spoilage: a share from 0 to 1 is wanted.") as refusal:
            process.save()
        self.assertEqual(refusal.exception.field, "spoilage")
        # The transaction around it goes on, and the row is as it was.
        process.refresh_from_db()
        self.assertEqual(process.spoilage, 0.5)

    def test_no_migration_tells_the_rules(self):
        name, path, _, told = Frame._meta.get_field("outer_width_mm").deconstruct()
        self.assertEqual((name, path, told), ("outer_width_mm", "django.db.models.FloatField", {}))

    def test_every_length_and_time_holds_to_a_rule(self):
        # Common practice, no source: a length or a time is more than nothing, or nothing.
        bare = {
            f"{model.__name__}.{field.name}"
            for model in OWN
            for field in model._meta.concrete_fields
            if isinstance(field, models.FloatField)
            and field.name.endswith(_MEASURED)
            and not field.name.endswith(_SIGNED)
            and not (isinstance(field, fields.FloatField) and field._validators)
        }
        self.assertEqual(bare, {"Screen.tension_n_per_cm"}, "all but what `ledger` alone writes")
