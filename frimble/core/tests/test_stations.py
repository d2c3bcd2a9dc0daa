"""The rows of the stations hang together, and a screen stands at one of them at most."""

import unittest
from collections import Counter
from datetime import datetime, timedelta

from frimble.core import stations
from frimble.core.conclusions import InvalidInput
from frimble.core.lifecycle import Life, Line, State

NOW = datetime(2026, 3, 2, 8)


def life(state, wet_for_min=0):
    return Life(Line.PHOTO, state, NOW - timedelta(hours=1), wet_until=NOW + timedelta(minutes=wet_for_min))


class StationTests(unittest.TestCase):
    def test_names_and_keys_are_each_used_once(self):
        for of in ("name", "key", "title"):
            used = Counter(getattr(s, of) for s in stations.STATIONS if getattr(s, of))
            self.assertEqual(max(used.values()), 1, of)
        # Today, film, mesh and rack have these keys already.
        self.assertFalse({s.key for s in stations.STATIONS} & set("1230"))

    def test_a_state_belongs_to_one_station(self):
        used = Counter(state for s in stations.STATIONS for state in s.states)
        self.assertEqual(set(used.values()), {1})
        # Common practice, no source. What is bare, without mesh or away waits for nobody in the room.
        self.assertEqual(set(State) - set(used), {State.BARE, State.NO_MESH, State.AWAY})

    def test_what_is_wet_dries_first_wherever_it_would_go(self):
        for state in stations.DRIES:
            self.assertEqual(stations.station_of(life(state, 20), NOW).name, "dry")
            self.assertNotEqual(stations.station_of(life(state), NOW).name, "dry")
        # A rinsed stencil is wet too, and is inspected when it has dried at the booth.
        self.assertEqual(stations.station_of(life(State.WASHED, 20), NOW).name, "wash")
        self.assertIsNone(stations.station_of(life(State.BARE), NOW))

    def test_only_what_needs_a_hand_asks_for_one(self):
        asking = {s for s in State if stations.waits_for_hand(life(s), NOW)}
        self.assertEqual(
            asking,
            {
                State.DEGREASED,
                State.PART_COATED,
                State.COATED,
                State.EXPOSED,
                State.WASHED,
                State.PRINTED,
                State.FAILED,
            },
        )
        self.assertFalse(stations.waits_for_hand(life(State.COATED, 20), NOW))

    def test_the_furthest_along_goes_first(self):
        # Common practice, no source. What lies exposed or wet with water does not wait; the room is freed from its end.
        self.assertEqual([s.name for s in stations.furthest_first()], ["wash", "expose", "coat", "reclaim"])

    def test_an_unknown_name_is_refused(self):
        self.assertEqual(stations.named("press").title, "Press")
        self.assertRaises(InvalidInput, stations.named, "kitchen")
