from frimble.core.coating.formula import Wait, parse_formula
from frimble.core.conclusions import InvalidInput
from frimble.core.testing.case import CoreCase


class FormulaTests(CoreCase):
    def parse(self, text):
        return parse_formula(text, self.house_settings)

    def test_the_usual_formulas_of_the_trade_parse_and_print_back(self):
        # Common practice, no source. One and one; three wet; one side; two and three; built up for thick white.
        for text in ("P1 S1", "S1 P1 S1", "P1", "P2 S2", "P2 S3", "P1 S1 / P1r / P1r"):
            with self.subTest(text):
                self.assertEqual(str(self.parse(text)), text)

    def test_marks_are_read(self):
        formula = self.parse("p1u s2x ~30 S1 / P1r")
        first, second, wait, third = formula.layers[0].entries
        self.assertTrue(first.turned)
        self.assertTrue(second.scraping)
        self.assertEqual(wait, Wait(30))
        self.assertFalse(third.round_edge)
        self.assertTrue(formula.layers[1].strokes[0].round_edge)

    def test_three_layers_are_dried_between_and_after(self):
        steps = self.parse("P1 S1 / P1r / P1r").steps()
        self.assertEqual(sum("before the next layer" in s for s in steps), 2)
        self.assertEqual(steps[-1], "Dry in the dark, print side down.")
        self.assertEqual(steps[3], "1 stroke on the print side, round edge.")

    def test_what_does_not_parse_says_where(self):
        for text, words in (
            ("P1 Q1", "Character 4, “Q”"),
            ("P1 S", "Character 4, “S”"),
            ("P1 // S1", "Character 5: there is no stroke"),
            ("/ P1", "Character 1: there is no stroke"),
            ("P1 S1 /", "Character 8: there is no stroke"),
            ("~30 P1", "Character 1: a wait follows a stroke"),
            ("P0 S1", "Character 1: P0 lays nothing"),
            ("P1rr", "the same mark twice"),
            ("P9 S9", "the coat sags"),
            ("P1 ~0 S1", "1 to 600 s"),
            ("", "Write a coat formula"),
        ):
            with self.subTest(text), self.assertRaises(InvalidInput) as caught:
                self.parse(text)
            self.assertIn(words, str(caught.exception))

    def test_departures_from_the_house_school_are_noted_not_refused(self):
        # Common practice, no source. In most schools the last wet stroke is from the squeegee side.
        self.assertEqual(self.parse("P1 S1").notes, ())
        self.assertIn("starts on the print side", " ".join(self.parse("S1 P1 S1").notes))
        self.assertIn("last wet stroke is from the print side", " ".join(self.parse("S1 P1").notes))
        self.assertIn("print side only", " ".join(self.parse("P1").notes))
