"""Supplies that must not stand together."""

from frimble.core.supplies.apart import Stored, clashes
from frimble.core.testing.case import CoreCase


class ApartTests(CoreCase):
    def test_only_what_stands_together_and_is_named_clashes(self):
        # Common practice, no source: bleach is kept from acids.
        bleach = Stored("Bleach haze remover", "Shelf 2", "acids, strong removers")
        acid = Stored("Acid cleaner", "shelf 2", "")
        (found,) = clashes([bleach, acid, Stored("Filler", "Shelf 2", ""), Stored("Acid etch", "Shelf 9", "")])
        self.assertEqual((found.name, found.other, found.word), ("Bleach haze remover", "Acid cleaner", "acid"))

    def test_words_that_say_nothing_and_places_not_known_are_none(self):
        self.assertEqual(clashes([Stored("A", "x", "other removers and all"), Stored("Remover and all", "x", "")]), [])
        self.assertEqual(clashes([Stored("A", "", "acid"), Stored("Acid", "", "")]), [])
