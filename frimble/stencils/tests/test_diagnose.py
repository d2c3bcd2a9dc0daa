"""The command that diagnoses a written case: its answer, and what it cannot use."""

import json

from django.test import SimpleTestCase

from frimble.testing.commands import run_command, run_on_text


def run(text: str, *options) -> tuple[str, int]:
    return run_on_text("diagnose", text, *options)


class DiagnoseTests(SimpleTestCase):
    def answer(self, symptoms, **facts):
        text, code = run(json.dumps({"symptoms": symptoms, "facts": facts}), "--json")
        self.assertEqual(code, 0)
        return json.loads(text)

    def test_each_cause_comes_with_its_reasons_and_what_to_do(self):
        # Common practice, no source: a coat that is damp inside washes off with its image.
        found = self.answer(
            ["all_washes_away", "lifts_in_sheets"], dried_min=25, dry_expected_min=60, dry_expected_high_min=90, hue=3
        )
        first = found["causes"][0]
        self.assertEqual(first["cause"], "coat_not_dry")
        self.assertIn("dried_min 25 min", first["because"][0])
        self.assertIn("dry_expected_min 60 min", first["because"][0])
        self.assertIn("seen: lifts_in_sheets", first["because"])
        self.assertTrue(first["do"])
        self.assertEqual(found["ignored"], ["hue"])
        self.assertLessEqual(sum(c["probability"] for c in found["causes"]), 1.0 + 1e-4)

    def test_with_hardly_anything_known_it_asks(self):
        found = self.answer(["pinholes"])
        self.assertLess(found["causes"][0]["probability"], 0.3)
        self.assertIn("glass_clean", found["ask"])

    def test_in_words_it_says_how_sure_it_is(self):
        text, _ = run('{"symptoms": ["light_lines_in_coat"], "facts": {"coater": "dirty"}}')
        self.assertIn("Most likely, at", text)
        self.assertIn("Coater's edge dirty: dried emulsion on the edge.", text)
        text, _ = run('{"symptoms": [], "facts": {}}')
        self.assertIn("Nothing stands out yet", text)
        self.assertIn("What would tell most", text)

    def test_what_is_no_case_is_told_in_json_with_code_2(self):
        for text in ("", "{", "[1]", '{"symptoms": 3}', '{"facts": []}x', "9" * 5000, "[" * 100000):
            said, code = run(text, "--json")
            self.assertEqual(code, 2, text[:20])
            self.assertTrue(json.loads(said)["error"])
        said, code = run_command("diagnose", "no-such-file.json", "--json")
        self.assertEqual(code, 2)
        self.assertIn("cannot be opened", json.loads(said)["error"])
