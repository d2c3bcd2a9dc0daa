"""Colours and their order from the names of files."""

from frimble.core.film.colours import colour_of, in_order
from frimble.core.testing.case import CoreCase


class ColourTests(CoreCase):
    def test_whole_words_before_letters_and_nothing_where_nothing_is_told(self):
        # Common practice, no source: how separators name their files.
        for name, colour in (
            ("lugger_white-base.tif", "white base"), ("Lugger Second White.pdf", "second white"), ("clock_K.png", "black"),
            ("J-301-gold-v2.tif", "gold"), ("towel.Y.tif", "yellow"), ("gray.png", "grey"), ("pennant.tif", ""),
            ("001.tif", ""),
        ):  # fmt: skip
            with self.subTest(name):
                self.assertEqual(colour_of(name), colour)

    def test_four_colours_go_yellow_magenta_cyan_black(self):
        # Common practice, no source: Y M C K.
        found = in_order(["t_K.tif", "t_C.tif", "t_M.tif", "t_Y.tif"])
        self.assertEqual([f.colour for f in found], ["yellow", "magenta", "cyan", "black"])
        self.assertEqual([f.position for f in found], [1, 2, 3, 4])

    def test_spot_colours_go_light_to_dark_with_the_base_first(self):
        # Common practice, no source: light to dark.
        found = in_order(["a_black.tif", "a_other.tif", "a_red.tif", "a_white-base.tif", "a_yellow.tif"])
        self.assertEqual([f.colour for f in found], ["white base", "yellow", "red", "black", ""])
