"""A day is read as it is written, or refused with what is wrong."""

from copy import deepcopy

from frimble.core.conclusions import InvalidInput
from frimble.core.planning.reading import read_day
from frimble.core.testing.case import CoreCase

_WRITTEN = {
    "start": "2026-05-04T07:00",
    "end": "2026-05-04T17:00",
    "overtime": False,
    "people": [{"name": "A", "from": "2026-05-04T06:00", "to": "2026-05-04T12:00", "skills": ["coat"]}],
    "stations": [{"name": "lamp", "capacity": 1}],
    "screens": [
        {
            "code": "S-1",
            "due": "2026-05-04T09:30",
            "ready": None,
            "weight": 2,
            "steps": [
                {"kind": "coat", "minutes": 4, "station": None, "hands": True, "batch": None, "start_within": None},
                {"kind": "expose", "minutes": 3, "station": "lamp", "hands": False, "batch": "L", "start_within": 30},
            ],
        }
    ],
}


class ReadingTests(CoreCase):
    def test_times_become_minutes_after_the_start(self):
        # Source: docs of the command, "whole minutes"; arithmetic.
        day = read_day(_WRITTEN)
        (screen,) = day.screens
        self.assertEqual((day.end, screen.due, screen.ready, screen.weight), (600, 150, 0, 2))
        self.assertEqual([(s.start, s.end) for s in day.shifts], [(0, 300)])
        self.assertEqual(
            [(s.kind, s.load, s.start_within) for s in screen.steps], [("coat", None, None), ("expose", "L", 30)]
        )

    def test_a_screen_s_own_overtime_comes_before_the_day_s(self):
        # Source: docs of the command.
        written = deepcopy(_WRITTEN)
        written["screens"][0]["overtime"] = True
        self.assertTrue(read_day(written).screens[0].overtime)
        written["overtime"], written["screens"][0]["overtime"] = True, False
        self.assertFalse(read_day(written).screens[0].overtime)

    def test_what_cannot_be_used_is_named(self):
        # Source: docs of the command: an unknown station, unequal steps of a load; the rest is common sense.
        step, screen = _WRITTEN["screens"][0]["steps"][1], _WRITTEN["screens"][0]
        other = {**screen, "code": "S-2", "steps": [{**step, "minutes": 5}]}
        for change, word in (
            ({"end": "2026-05-04T07:00"}, "ends after it starts"),
            ({"end": "at five"}, "no time"),
            ({"end": "2026-05-04T17:00:30"}, "no whole minute"),
            ({"end": "2026-05-04T17:00+02:00"}, "zone"),
            ({"start": None}, "no time"),
            ({"stations": []}, "no station lamp"),
            ({"stations": [{"name": "lamp", "capacity": -1}]}, "whole number"),
            ({"stations": _WRITTEN["stations"] * 2}, "Two stations"),
            ({"screens": [screen, screen]}, "Two screens"),
            ({"screens": [screen, other]}, "batch L differ"),
            ({"screens": [{**screen, "steps": []}]}, "no steps"),
            ({"screens": [{**screen, "steps": [{**step, "minutes": 2.5}]}]}, "whole number"),
            ({"screens": [{**screen, "steps": [{**step, "minutes": True}]}]}, "whole number"),
            ({"screens": [{**screen, "steps": [{**step, "hands": "yes"}]}]}, "true or false"),
            ({"screens": [{**screen, "weight": float("nan")}]}, "weight"),
            ({"screens": {}}, "list"),
            ({"people": [{"name": "A", "from": "2026-05-04T08:00", "to": "2026-05-04T07:00"}]}, "end before"),
            ({"people": [{"name": "", "from": "2026-05-04T08:00", "to": "2026-05-04T09:00"}]}, "name"),
        ):
            with self.subTest(word), self.assertRaisesRegex(InvalidInput, word):
                read_day(_WRITTEN | change)
        with self.assertRaises(InvalidInput):
            read_day([_WRITTEN])
