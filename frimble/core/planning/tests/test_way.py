"""What a screen still goes through, and what would help a late day."""

from dataclasses import replace

from frimble.core.lifecycle import State
from frimble.core.planning.dayplan import Status, ends_of
from frimble.core.planning.helping import what_would_help
from frimble.core.planning.planning import plan_day
from frimble.core.planning.stages.going_on import with_what_goes_on
from frimble.core.planning.stages.way import BOOTH, OnItsWay, can_go_on, has_way, way
from frimble.core.planning.tests.days import ENOUGH_S, day, dry, screen, work
from frimble.core.testing.case import CoreCase


class WayTests(CoreCase):
    def kinds(self, *arguments, **more):
        return [s.kind for s in way(OnItsWay(*arguments, **more), self.house_settings)]

    def test_from_bare_mesh_to_press_and_from_half_way(self):
        # Source: the trade's order of work: degrease, dry, coat, dry, expose, wash, dry, inspect.
        whole = ["degrease", "dry", "coat", "dry", "expose", "wash", "dry", "inspect"]
        self.assertEqual(self.kinds(State.BARE), whole)
        self.assertEqual(self.kinds(State.PART_COATED, 0, 2), ["coat", "dry", "coat", "dry", *whole[4:]])
        self.assertEqual(self.kinds(State.WASHED), ["inspect"])
        self.assertEqual([s for s in State if can_go_on(s)][:2], [State.BARE, State.DEGREASED])
        self.assertFalse(can_go_on(State.PRINTED) or has_way(State.PRINTED))

    def test_a_failed_stencil_is_reclaimed_first(self):
        # Source: the trade's order of work: the remover at the booth, then the mesh is degreased as any bare one.
        self.assertEqual(self.kinds(State.FAILED), ["reclaim", *self.kinds(State.BARE)])
        first, *_ = way(OnItsWay(State.FAILED), self.house_settings)
        self.assertEqual((first.minutes, first.workstation), (self.house_settings["day.reclaim_min"], BOOTH))
        self.assertTrue(has_way(State.FAILED) and not can_go_on(State.FAILED))

    def test_what_dries_goes_on_at_once_and_the_wash_follows_the_light(self):
        # Source: a drying coat cannot be put off; settings for the wash.
        first, expose, wash, *_ = way(OnItsWay(State.COATED, wet_min=17), self.house_settings)
        self.assertEqual((first.kind, first.minutes, first.start_within, first.hands), ("dry", 17, 0, False))
        self.assertEqual((expose.start_within, wash.start_within), (None, self.house_settings["day.wash_within_min"]))
        alone, *_ = way(OnItsWay(State.EXPOSED), self.house_settings)
        self.assertIsNone(alone.start_within)

    def test_a_predicted_drying_time_takes_the_place_of_the_house_s(self):
        layer = way(OnItsWay(State.DEGREASED, layer_dry_min=51), self.house_settings)[1]
        self.assertEqual(layer.minutes, 51)


class GoingOnTests(CoreCase):
    def dries(self, code, minutes):
        return screen(code, dry(minutes, start_within=0, workstation="cabinet"), work(10))

    def test_what_dries_past_the_day_s_end_holds_its_place_and_the_others_are_planned(self):
        # Source: by hand: a is dry 30 min after the day ends; b has its 10 min all the same.
        evening = day(self.dries("a", 90), screen("b", work(10)), end=60, cabinet=1)
        self.assertIs(plan_day(evening, 0).status, Status.INFEASIBLE)
        plan = plan_day(with_what_goes_on(evening), 0)
        self.assertEqual((ends_of(plan.tasks), plan.left_out), ({"b": 10}, ("a",)))

    def test_an_hour_more_helps_what_is_dry_by_then_and_nothing_else(self):
        # Source: by hand: with 120 min a, dry at 90, ends at 100; c, dry at 115, does not; left out both end at 60 + 1440.
        evening = day(replace(self.dries("a", 90), due=60), replace(self.dries("c", 115), due=60), end=60, cabinet=2)
        (hour,) = what_would_help(evening, plan_day(with_what_goes_on(evening), 0), 0.3)
        self.assertEqual((hour.words, hour.late, hour.left_out), ("one hour more", 40 + 1440, 1))

    def test_more_that_dry_than_there_are_places_dry_all_the_same(self):
        crowded = day(self.dries("a", 20), self.dries("b", 30), cabinet=1)
        self.assertEqual(with_what_goes_on(crowded).places["cabinet"], 2)
        self.assertEqual(plan_day(with_what_goes_on(crowded), 0).left_out, ())


class HelpTests(CoreCase):
    def test_the_change_that_helps_most_comes_first_and_what_helps_nothing_is_not_named(self):
        # Source: by hand: with one lamp c waits 30 min; a second lamp without hands does away with it.
        lit = [screen(code, work(30, workstation="lamp"), due=30) for code in "ab"]
        of_day = day(*lit, lamp=1, sink=1)
        plan = plan_day(of_day, ENOUGH_S)
        self.assertEqual(plan.cost.late, 30)
        self.assertEqual(what_would_help(of_day, plan, 0.3), [])
        alone = [screen(code, work(30, workstation="lamp"), due=30) for code in "ab"]
        two = day(*alone, people={"A": ("work",), "B": ("work",)}, lamp=1, sink=1)
        helps = what_would_help(two, plan_day(two, ENOUGH_S), 0.3)
        self.assertEqual([(h.words, h.late) for h in helps], [("one more place: lamp", 0)])
