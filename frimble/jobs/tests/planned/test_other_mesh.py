"""What would help a late day, from the room's records: the next finer mesh that is at hand."""

from datetime import time

from frimble.core.planning.planning import first_plan
from frimble.jobs.choosing import services as choosing
from frimble.jobs.day import queries
from frimble.jobs.day.durations import with_learned
from frimble.jobs.models import ScreenNeed
from frimble.jobs.tests.planned.test_day import DayCase, at
from frimble.people import settings as house_settings
from frimble.screens.models import MeshType, Screen
from frimble.screens.register.services import register_screen


class OtherMeshTests(DayCase):
    """Two held screens of 77-48 that the press wants before anybody has come."""

    def setUp(self):
        super().setUp()
        self.job.press_time = time(0, 30)
        self.job.save()

    def on_mesh(self, code, count, thread):
        """A free, bare screen of another mesh."""
        mesh = MeshType.objects.create(count_per_cm=count, thread_um=thread, colour="yellow")
        return register_screen(code, "aluminium", 580, 790, mesh, "photo", self.people["odile"])

    def tried(self):
        found = queries.room_day(with_learned(house_settings.current()), at(6))
        return found, list(queries.other_meshes(found, first_plan(found.day)))

    def test_a_coarser_mesh_or_none_helps_nothing(self):
        self.on_mesh("Q-090", 43, 80)
        self.assertEqual(self.tried()[1], [])

    def test_the_next_finer_mesh_at_hand_is_tried_for_each_late_screen(self):
        self.on_mesh("Q-091", 140, 31)
        self.on_mesh("Q-092", 90, 48)
        found, tried = self.tried()
        # Source: by hand: 90 is the next above 77, whatever else lies in the rack.
        self.assertEqual([("90-48" in words, "Q-092" in words) for words, _ in tried], [(True, True)] * 2)
        for words, day in tried:
            self.assertIn("with less ink", words)
            self.assertEqual({s.code for s in day.screens}, {s.code for s in found.day.screens})
            changed = [s for s, was in zip(day.screens, found.day.screens, strict=True) if s != was]
            self.assertLessEqual(len(changed), 1)

    def test_a_layer_on_a_finer_mesh_takes_no_longer_to_dry(self):
        # Source: the trade: less emulsion lies in a finer mesh, so that it dries sooner.
        self.on_mesh("Q-092", 120, 34)
        found, tried = self.tried()
        for _, day in tried:
            for screen, was in zip(day.screens, found.day.screens, strict=True):
                dried = [[s.minutes for s in one.steps if s.kind == "dry"] for one in (screen, was)]
                self.assertLessEqual(sum(dried[0]), sum(dried[1]))

    def test_a_finer_mesh_that_is_held_for_another_colour_is_not_at_hand(self):
        screen = self.on_mesh("Q-092", 90, 48)
        need = ScreenNeed.objects.create(job=self.job, mesh=screen.mesh, formula="P1 S1", colour="red")
        choosing.hold(need, "Q-092", self.people["odile"], house_settings.current())
        self.assertFalse([words for words, _ in self.tried()[1] if "Q-092" in words])

    def test_what_is_coated_already_keeps_its_mesh(self):
        self.on_mesh("Q-092", 90, 48)
        Screen.objects.filter(frame__code="Q-014").update(state="coated")
        self.assertEqual([("Q-014" in words) for words, _ in self.tried()[1]], [False])

    def test_in_time_nothing_is_tried(self):
        self.on_mesh("Q-092", 90, 48)
        self.job.press_time = time(15, 55)
        self.job.save()
        self.assertEqual(self.tried()[1], [])
