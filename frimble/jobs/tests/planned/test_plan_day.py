"""The command that plans a written day: its answer, and what it cannot use."""

import json

from django.test import SimpleTestCase

from bench.other.days import day as made_up_day
from frimble.testing.commands import run_on_text

_STEP = {"kind": "coat", "minutes": 30, "station": "bench", "hands": True}
_DAY = {
    "start": "2026-05-04T07:00",
    "end": "2026-05-04T09:00",
    "people": [{"name": "A", "from": "2026-05-04T07:00", "to": "2026-05-04T12:00", "skills": ["coat"]}],
    "stations": [{"name": "bench", "capacity": 1}],
    "screens": [
        {"code": "S-1", "due": "2026-05-04T08:00", "weight": 2, "steps": [_STEP]},
        {
            "code": "S-2",
            "due": "2026-05-04T07:30",
            "weight": 1,
            "steps": [_STEP, _STEP | {"kind": "dry", "hands": False}],
        },
        {"code": "S-3", "due": None, "steps": [_STEP | {"kind": "expose"}]},
    ],
}
# The search ends when nothing is left to prove, long before this.
_UNTIL_PROVEN = ("--seconds", "60")


def run(text: str, *options) -> tuple[str, int]:
    return run_on_text("plan_day", text, *options)


class PlanDayTests(SimpleTestCase):
    def answer(self, day, *options):
        text, code = run(json.dumps(day), "--json", *options)
        self.assertEqual(code, 0, text)
        return json.loads(text)

    def test_the_answer_has_the_shape_that_others_rely_on(self):
        # Source: by hand: S-1 first (0 late), then S-2 coats 07:30 to 08:00 and lies on the bench to 08:30: 60 min late.
        found = self.answer(_DAY, *_UNTIL_PROVEN)
        self.assertEqual(
            (found["status"], found["late"], found["late_proven"], found["bound"]), ("optimal", 60, True, 60)
        )
        self.assertEqual(found["sum_of_ends"], 30 + 90 + 120 + 1440)
        self.assertEqual(
            found["tasks"][0],
            {"screen": "S-1", "step": 0, "start": "2026-05-04T07:00", "end": "2026-05-04T07:30", "person": "A"},
        )
        self.assertEqual(found["left_out"], ["S-3"])
        self.assertEqual(found["why"], {"S-2": "bench", "S-3": "somebody who can expose"})
        self.assertGreater(found["seconds"], 0)

    def test_at_once_it_plans_by_rules_and_claims_no_more(self):
        # Source: the bound is one of every plan, so that a search may come to it but not below.
        day = made_up_day(3, 12)
        at_once, searched = self.answer(day, "--seconds", "0"), self.answer(day, "--seconds", "3")
        key = lambda found: (found["late"], found["sum_of_ends"])  # noqa: E731
        self.assertLessEqual(key(searched), key(at_once))
        self.assertLessEqual(max(at_once["bound"], searched["bound"]), searched["late"])

    def test_in_sentences_every_step_and_what_it_waits_for(self):
        text, _ = run(json.dumps(_DAY), *_UNTIL_PROVEN)
        self.assertIn("60 weighted minutes late; no plan has less.", text)
        self.assertIn("2026-05-04T07:00 S-1: coat at bench, 30 min, A", text)
        self.assertIn("S-2 waits for bench.", text)

    def test_a_running_step_that_cannot_go_on_is_infeasible(self):
        # Source: docs of the command.
        running = [{"code": c, "steps": [_STEP | {"hands": False, "start_within": 0}]} for c in "ab"]
        found = self.answer(_DAY | {"screens": running}, "--seconds", "1")
        self.assertEqual((found["status"], found["tasks"], found["left_out"]), ("infeasible", [], ["a", "b"]))

    def test_what_is_no_day_is_told_in_json_with_code_2(self):
        unknown = _DAY | {"stations": []}
        for text in ("", "{", "[1]", '{"start": 3}', "[" * 100000, json.dumps(unknown)):
            said, code = run(text, "--json")
            self.assertEqual(code, 2)
            self.assertTrue(json.loads(said)["error"])
        said, code = run(json.dumps(_DAY), "--json", "--seconds", "-1")
        self.assertEqual(code, 2)
