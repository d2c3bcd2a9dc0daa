"""The line's counts against what the core says of each screen; settings read once a request."""

from dataclasses import replace
from datetime import timedelta
from itertools import cycle
from unittest import mock

from django.utils import timezone

from frimble.coatings.models import Batch, BatchRecord
from frimble.core import lifecycle, stations
from frimble.exposures.models import Lamp, Run
from frimble.films.models import FilmProcess
from frimble.jobs.frame import floor as floors
from frimble.jobs.frame.floor import Floor, Running
from frimble.people import settings as house_settings
from frimble.people.cached import Prepared
from frimble.people.models import HouseSetting
from frimble.screens.models import MeshType, Screen
from frimble.screens.register.services import register_many
from frimble.testing.case import PageCase
from frimble.testing.records import open_run
from frimble.testing.shop import small_shop


class LineTests(PageCase):
    def setUp(self):
        self.people = small_shop()
        mesh = MeshType.objects.filter(thermal=False).first()
        frame = {"material": "aluminium", "width_mm": 580, "height_mm": 790, "mesh": mesh, "line": "photo"}
        register_many("R-001", 48, self.people["odile"], **frame)
        now = timezone.now()
        wet = cycle((None, now + timedelta(minutes=20), now - timedelta(minutes=20)))
        for screen, state, until in zip(Screen.objects.order_by("pk"), cycle(lifecycle.State), wet, strict=False):
            Screen.objects.filter(pk=screen.pk).update(state=state, wet_until=until, since=now, coated_at=now)

    def test_counting_agrees_with_the_core_screen_by_screen(self):
        floor = Floor.read()
        screens = list(Screen.objects.for_lists())
        for station in stations.STATIONS:
            name = station.name
            there = {s.code for s in screens if stations.station_of(s.life, floor.now) == station}
            self.assertEqual(floor.counts[name], len(there), name)
            self.assertEqual({s.code for s in floor.screens(name)}, there, name)
            asking = {s.code for s in screens if s.code in there and stations.waits_for_hand(s.life, floor.now)}
            self.assertEqual(floor.asking[name], len(asking), name)
        # Put together anew: what was prepared keeps the number it was prepared with.
        few, anew = mock.patch.object(floors, "SHOWN", 3), Prepared(floors._first_rows)
        with few, mock.patch.object(floors, "_FIRST", anew):
            first = floor.first_screens()
        self.assertEqual({n: len(f) for n, f in first.items()}, {n: min(3, c) for n, c in floor.counts.items()})
        for name, screens in first.items():
            self.assertLessEqual({s.code for s in screens}, {s.code for s in floor.screens(name)}, name)
        self.assertEqual(floor.total, 52)

    def test_what_runs_is_told_lamps_first_then_what_is_dry_first(self):
        lamp, process = Lamp.objects.get(), FilmProcess.objects.get()
        late = Screen.objects.get(frame__code="R-009")
        Screen.objects.filter(pk=late.pk).update(
            state=lifecycle.State.COATED, wet_until=timezone.now() + timedelta(minutes=5)
        )
        given = {
            "lamp": lamp,
            "film_process": process,
            "time_s": 20,
            "total_s": 20,
            "why": "",
            "made_by": self.people["tamsin"],
        }
        run = Run.objects.create(screen=Screen.objects.get(frame__code="R-001"), made_at=timezone.now(), **given)
        Run.objects.create(screen=late, made_at=timezone.now(), status=Run.Status.DONE, **given)
        # One, and the house settings with their state, which a page has read already.
        with self.assertNumQueries(3):
            now_running = Floor.read().running
        self.assertEqual(now_running.timers, [(run.pk, "R-001")])
        drying = now_running.drying
        self.assertEqual(drying[0][:2], ("R-009", lifecycle.State.COATED))
        self.assertEqual([until for *_, until in drying], sorted(until for *_, until in drying))
        self.assertLessEqual(len(drying), 2)

    def test_each_reading_is_of_its_own_moment(self):
        first = Floor.read()
        with mock.patch.object(timezone, "now", return_value=first.now + timedelta(hours=1)):
            later = Floor.read()
        self.assertGreater(first.counts["dry"], 0)
        self.assertEqual((later.counts["dry"], later.first_dry_at, later.running.drying), (0, None, []))
        self.assertEqual((later.total, later.racked), (first.total, first.racked))

    def test_many_batches_moved_at_once_leave_room_for_a_timer(self):
        batch, tamsin = Batch.objects.first(), self.people["tamsin"]
        for seconds in range(30):
            BatchRecord.objects.create(
                batch=batch, kind=BatchRecord.Kind.MOVED, at=timezone.now() - timedelta(seconds=seconds), by=tamsin
            )
        run = open_run("R-001")
        now_running = Floor.read().running
        self.assertEqual((now_running.moved, now_running.timers), ([batch.pk], [(run.pk, "R-001")]))

    def test_nothing_runs_in_an_empty_room(self):
        Screen.objects.update(wet_until=None)
        self.assertEqual(Floor.read().running, Running([], [], []))

    def test_a_seventh_station_is_a_row_and_every_page_has_it(self):
        seventh = stations.Station("strip", (lifecycle.State.STRIPPED,), "Strip", "Ink out, stencil kept.", "kept")
        *others, reclaim = stations.STATIONS
        without = replace(reclaim, states=(lifecycle.State.PRINTED, lifecycle.State.FAILED))
        self.client.force_login(self.people["tamsin"])
        # As above: what was prepared keeps its stations.
        anew = mock.patch.object(floors, "_FIRST", Prepared(floors._first_rows))
        with anew, mock.patch.object(stations, "STATIONS", (*others, without, seventh)):
            for address in ("/", "/screens/", "/screens/at/strip/", "/screens/at/coat/"):
                self.assertContains(self.client.get(address), "Strip")
            floor = Floor.read()
            there = {s.code for s in Screen.objects.for_lists() if s.state == lifecycle.State.STRIPPED}
            self.assertEqual({s.code for s in floor.screens("strip")}, there)
        self.assertEqual(self.client.get("/screens/at/strip/").status_code, 404)

    def test_stations_are_paged(self):
        Screen.objects.update(state=lifecycle.State.PRINTED, wet_until=None)
        self.client.force_login(self.people["tamsin"])
        page = self.client.get("/screens/at/reclaim/")
        self.assertContains(page, "Page 1 of 3, 52 in all")
        self.assertEqual(len(self.client.get("/screens/at/reclaim/?page=3").context["rows"]), 2)

    def test_a_request_reads_the_standards_once_and_sees_its_own_change(self):
        house_settings.begin_request()
        try:
            house_settings.current()
            with self.assertNumQueries(0):
                house_settings.current()
            house_settings.change(
                "tension.poor_below", "19", "our work is coarse", self.people["odile"], timezone.now()
            )
            self.assertEqual(house_settings.current()["tension.poor_below"], 19)
        finally:
            house_settings.end_request()
        HouseSetting.objects.all().delete()
        self.assertEqual(house_settings.current()["tension.poor_below"], 20)
