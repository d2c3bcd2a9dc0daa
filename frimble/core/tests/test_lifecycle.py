from datetime import datetime, timedelta

from frimble.core.lifecycle import (
    Event,
    Life,
    Line,
    State,
    next_steps,
    place_refused,
    project,
    tension_refused,
    verdict,
)
from frimble.core.stations import station_of
from frimble.core.testing.case import CoreCase

T0 = datetime(2026, 3, 2, 8)


def minutes(n):
    return T0 + timedelta(minutes=n)


def coat(at, layer=1, layers=1, wet=60):
    return Event("coat", minutes(at), {"layer": layer, "layers": layers, "wet_until": minutes(at + wet)})


LOOP = [
    Event("degrease", minutes(0), {"wet_until": minutes(10)}),
    coat(15),
    Event("expose", minutes(90)),
    Event("wash", minutes(95)),
    Event("inspect", minutes(120), {"passed": True}),
    Event("to_press", minutes(200)),
    Event("from_press", minutes(400), {"impressions": 300}),
    Event("strip", minutes(420)),
    Event("reclaim", minutes(450)),
]


class ProjectionTests(CoreCase):
    def test_one_round_passes_through_the_states_of_the_trade(self):
        # Common practice, no source. Degrease, coat, expose, wash, inspect, press, strip, reclaim.
        states = [project(Line.PHOTO, LOOP[:n]).state for n in range(len(LOOP) + 1)]
        self.assertEqual(
            states,
            [
                State.BARE,
                State.DEGREASED,
                State.COATED,
                State.EXPOSED,
                State.WASHED,
                State.READY,
                State.AT_PRESS,
                State.PRINTED,
                State.STRIPPED,
                State.BARE,
            ],
        )
        self.assertEqual(project(Line.PHOTO, LOOP).cycles, 1)

    def test_a_layered_coat_is_finished_by_its_last_layer(self):
        events = [LOOP[0], coat(15, 1, 3)]
        self.assertEqual(project(Line.PHOTO, events).state, State.PART_COATED)
        events += [coat(90, 2, 3), coat(160, 3, 3)]
        self.assertEqual(project(Line.PHOTO, events).state, State.COATED)

    def test_steps_take_it_out_of_its_slot_and_tension_does_not(self):
        events = [Event("place", T0, {"slot": "A-01"}), Event("tension", minutes(1), {"mean": 24.2})]
        life = project(Line.PHOTO, events)
        self.assertEqual((life.slot, life.tension_n_per_cm), ("A-01", 24.2))
        self.assertEqual(project(Line.PHOTO, [*events, LOOP[0]]).slot, "")

    def test_thermal_film_is_never_coated_and_ends_cut_out(self):
        # Common practice, no source. A thermal mesh has no emulsion, exposure or reclaim; it is cut out after its job.
        life = Life(Line.THERMAL, State.BARE)
        kinds = {v.step.kind for v in next_steps(life, T0, self.house_settings)}
        self.assertTrue({"coat", "expose", "wash", "reclaim", "degrease"}.isdisjoint(kinds))
        events = [Event(k, minutes(i)) for i, k in enumerate(("image", "inspect", "to_press", "from_press", "cut_out"))]
        self.assertEqual(project(Line.THERMAL, events).state, State.NO_MESH)

    def test_hand_stencils_skip_coat_and_light(self):
        kinds = [
            v.step.kind for v in next_steps(Life(Line.HAND, State.DEGREASED), T0, self.house_settings) if v.allowed
        ]
        self.assertIn("block_out", kinds)
        self.assertFalse(verdict(Life(Line.HAND, State.DEGREASED), "coat", T0, self.house_settings).allowed)


class GuardTests(CoreCase):
    def life(self, upto):
        return project(Line.PHOTO, LOOP[:upto])

    def test_a_wet_coat_is_not_exposed_and_the_reason_says_when(self):
        result = verdict(self.life(2), "expose", minutes(50), self.house_settings)
        self.assertFalse(result.allowed)
        self.assertTrue(result.overridable)
        self.assertEqual(
            result.reason,
            "Do not expose yet: coated 35 min ago, held as wet for 25 min more. A scale or a meter tells sooner.",
        )
        self.assertTrue(verdict(self.life(2), "expose", minutes(76), self.house_settings).allowed)

    def test_wet_mesh_is_not_coated_but_a_hand_may_find_it_dry(self):
        self.assertFalse(verdict(self.life(1), "coat", minutes(5), self.house_settings).allowed)
        self.assertTrue(verdict(self.life(1), "dry_mesh", minutes(5), self.house_settings).allowed)
        dry = project(Line.PHOTO, [LOOP[0], Event("dry_mesh", minutes(6))])
        self.assertTrue(verdict(dry, "coat", minutes(6), self.house_settings).allowed)

    def test_steps_out_of_order_name_the_state_and_what_comes_first(self):
        result = verdict(self.life(0), "expose", T0, self.house_settings)
        self.assertFalse(result.allowed or result.overridable)
        self.assertEqual(result.reason, "It is clean, bare mesh: coat it and let it dry first.")

    def test_a_screen_with_a_stencil_is_reclaimed_before_coat_and_light(self):
        # Common practice, no source: emulsion goes on bare, degreased mesh; a stencil has to come off before.
        ready = project(Line.PHOTO, [*LOOP[:4], Event("inspect", minutes(120), {"passed": True})])
        for kind in ("coat", "expose"):
            result = verdict(ready, kind, minutes(130), self.house_settings)
            self.assertFalse(result.allowed)
            self.assertEqual(result.reason, "It is ready for press: its stencil has to be reclaimed first.")
        lit = project(Line.PHOTO, LOOP[:3])
        self.assertIn("wash it out", verdict(lit, "expose", minutes(100), self.house_settings).reason)

    def test_a_step_test_does_not_go_to_press(self):
        events = [*LOOP[:2], Event("expose", minutes(90), {"is_test": True}), LOOP[3]]
        life = project(Line.PHOTO, events)
        self.assertIn("read the test", verdict(life, "inspect", minutes(130), self.house_settings).reason)
        first = next_steps(life, minutes(130), self.house_settings)[0]
        self.assertEqual((first.step.kind, first.allowed), ("reclaim", True))

    def test_an_old_coat_is_warned_of(self):
        # From memory: coated screens keep about four weeks in the dark.
        result = verdict(self.life(2), "expose", T0 + timedelta(days=41), self.house_settings)
        self.assertTrue(result.allowed)
        self.assertIn("Coated 40 days ago", result.warning)

    def test_a_failed_stencil_goes_to_the_reclaim(self):
        life = project(Line.PHOTO, [*LOOP[:4], Event("inspect", minutes(120), {"passed": False})])
        self.assertEqual(life.state, State.FAILED)
        self.assertEqual(next_steps(life, minutes(121), self.house_settings)[0].step.kind, "reclaim")

    def test_time_does_not_run_backwards(self):
        result = verdict(self.life(2), "expose", minutes(10), self.house_settings)
        self.assertFalse(result.allowed)
        self.assertIn("later than this time", result.reason)

    def test_a_good_coat_is_not_first_offered_to_the_reclaim(self):
        first = next_steps(self.life(2), minutes(30), self.house_settings)[0]
        self.assertEqual(first.step.kind, "expose")

    def test_stations_follow_the_work(self):
        result = [station_of(self.life(n), minutes(1000)) for n in range(10)]
        at = [station.name if station else "" for station in result]
        self.assertEqual(at, ["", "coat", "expose", "wash", "wash", "press", "press", "reclaim", "reclaim", ""])
        self.assertEqual(station_of(self.life(2), minutes(20)).name, "dry")

    def test_what_is_on_press_is_not_racked_and_a_wet_coat_not_gauged(self):
        self.assertIn("on press", place_refused(self.life(6)))
        self.assertEqual(place_refused(self.life(5)), "")
        self.assertIn("would mark it", tension_refused(self.life(2), minutes(20)))
        self.assertEqual(tension_refused(self.life(2), minutes(200)), "")
