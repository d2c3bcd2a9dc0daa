"""Facts of records have the shape of their kind."""

import unittest

from frimble.core import facts
from frimble.core.lifecycle import STEPS


class FactsTests(unittest.TestCase):
    # Source: PEP 589, TypedDict: required and not required keys, each of its type.

    def test_what_fits_passes(self):
        for kind, given in (
            ("coat", {"layer": 1, "layers": 2, "wet_until": "2026-03-02T09:00"}),
            ("expose", {"is_test": True, "given_s": 30, "test": 4}),
            ("dry_check", {"verdict": "dry", "wet_until": None}),
            ("reclaim", {"rounds": 1, "minutes": 8.0, "outcome": "clean", "products": {}}),
            ("strip", {}),
        ):
            self.assertEqual(facts.checked(kind, given), given)

    def test_what_is_missing_foreign_or_of_another_type_is_named(self):
        for kind, given, word in (
            ("coat", {"layer": 1, "layers": 2}, "Facts of coat: wet_until is missing"),
            ("strip", {"minutes": 3}, "minutes does not belong to it"),
            ("inspect", {"passed": 1, "pinholes": 0}, "passed is of another type"),
            ("from_press", {"impressions": True}, "impressions is of another type"),
        ):
            with self.assertRaisesRegex(TypeError, word):
                facts.checked(kind, given)

    def test_an_old_record_may_lack_what_is_not_read_as_it_is(self):
        # Source: RFC 8259: a value in JSON may be an object, a list, a word, a number, true, false or null.
        self.assertEqual(facts.wrong_in_old("coat", {"layer": 1}), [])
        self.assertEqual(facts.wrong_in_old("tension", {}), ["mean is missing"])
        for value in ([], "x", 3, True, None):
            self.assertEqual(facts.wrong_in_old("strip", value), ["values by their names are wanted"])

    def test_every_shape_belongs_to_a_kind_of_record(self):
        others = {"place", "mounted", "tension", "air", "dry_check", "thickness", "read_test", "harden"}
        self.assertEqual(set(facts.SHAPES) - set(STEPS), others)
