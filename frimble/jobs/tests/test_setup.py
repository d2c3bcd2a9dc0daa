"""What a room still wants before its first calibrated time, and the version that pages follow."""

from datetime import timedelta
from unittest import mock

from django.test import TestCase
from django.utils import timezone

from frimble.coatings.batches import services as batch_services
from frimble.coatings.models import Batch, Emulsion
from frimble.exposures.models import Lamp
from frimble.films.models import FilmProcess
from frimble.jobs import live
from frimble.jobs.setup import presenters
from frimble.people.models import Person
from frimble.screens.models import MeshType, Rack
from frimble.screens.register.services import register_screen
from frimble.screens.steps.services import degrease
from frimble.testing.case import PageCase
from frimble.testing.shop import small_shop


class MissingTests(PageCase):
    def setUp(self):
        self.odile = Person.objects.create_user("odile", role="lead")
        self.client.force_login(self.odile)

    def titles(self):
        return [step.title for step in presenters.missing()]

    def test_an_empty_room_wants_what_a_time_rests_on_and_nothing_else(self):
        self.assertEqual(
            self.titles(),
            ["Lamp", "Film process", "Emulsion", "Open batch", "Mesh", "Screens", "First calibrated time"],
        )
        page = self.client.get("/")
        self.assertContains(page, "Add a lamp")
        self.assertContains(page, "Still missing")
        self.assertContains(self.client.get("/room/"), "It can wait.")

    def test_each_thing_that_is_entered_leaves_the_list_in_any_order(self):
        mesh = MeshType.objects.create(count_per_cm=77, thread_um=48, colour="yellow")
        self.assertNotIn("Mesh", self.titles())
        register_screen("Q-001", "wood", 580, 790, mesh, "photo", self.odile)
        Lamp.objects.create(name="Lantern", kind="led", distance_mm=400)
        FilmProcess.objects.create(name="Inkjet")
        emulsion = Emulsion.objects.create(name="Saltern", kind="photopolymer", solids=0.4)
        self.assertEqual(self.titles(), ["Open batch", "First calibrated time"])
        batch = Batch.objects.create(code="S-1", emulsion=emulsion, mixed_at=timezone.now(), mixed_by=self.odile)
        self.assertEqual(self.titles(), ["First calibrated time"])
        # A batch that was thrown away is none.
        batch_services.finish(batch)
        self.assertIn("Open batch", self.titles())

    def test_racks_and_labels_can_wait_and_say_how_many_there_are(self):
        Rack.objects.create(code="A", name="Open rack")
        rack = next(step for step in presenters.steps() if step.title == "Racks")
        self.assertTrue(rack.done and rack.can_wait)
        self.assertEqual(rack.have, "1 rack")


class EmptiedTests(PageCase):
    def test_a_calibrated_room_without_a_screen_offers_to_register_one(self):
        self.client.force_login(Person.objects.create_user("odile", role="lead"))
        with (
            mock.patch("frimble.jobs.views.chart_queries.entries_in_force", return_value=[mock.MagicMock()]),
            mock.patch("frimble.jobs.views.today.wants_a_look", return_value=[]),
        ):
            page = self.client.get("/")
        self.assertContains(page, "No screens")
        self.assertContains(page, 'href="/screens/register/"')


class VersionTests(TestCase):
    def setUp(self):
        self.people = small_shop()

    def test_a_record_changes_it_and_looking_does_not(self):
        before = live.version()
        self.assertEqual(live.version(), before)
        degrease("Q-014", self.people["tamsin"], dwell_s=30)
        self.assertNotEqual(live.version(), before)

    def test_a_page_bears_one_that_is_never_newer_than_itself(self):
        before = live.version()
        degrease("Q-014", self.people["tamsin"], dwell_s=30)
        self.assertEqual(live.version_for_page(), before)
        with mock.patch("frimble.jobs.live.time.monotonic", return_value=live._seen[0] + 6):
            self.assertEqual(live.version_for_page(), live.version())

    def test_it_is_for_people_of_the_room(self):
        self.assertEqual(self.client.get("/changes/").status_code, 302)
        self.client.force_login(self.people["ines"])
        answer = self.client.get("/changes/")
        self.assertRegex(answer.content.decode(), r"^\d+(\.\d+)+$")
        self.assertEqual(answer["Cache-Control"], "no-store")

    def test_old_screens_and_new_frames_count_too(self):
        before = live.version()
        mesh = MeshType.objects.first()
        at = timezone.now() - timedelta(days=900)
        register_screen("Q-900", "wood", 580, 790, mesh, "photo", self.people["odile"], at=at)
        self.assertNotEqual(live.version(), before)
