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
            ("coat", {"layer": 1, "layers": 2}, r"missing \['wet_until'\]"),
            ("strip", {"minutes": 3}, r"foreign \['minutes'\]"),
            ("inspect", {"passed": 1, "pinholes": 0}, r"wrong \['passed'\]"),
            ("from_press", {"impressions": True}, r"wrong \['impressions'\]"),
        ):
            with self.assertRaisesRegex(TypeError, word):
                facts.checked(kind, given)

    def test_every_shape_belongs_to_a_kind_of_record(self):
        others = {"place", "mounted", "tension", "air", "dry_check", "thickness", "read_test", "harden"}
        self.assertEqual(set(facts.SHAPES) - set(STEPS), others)
