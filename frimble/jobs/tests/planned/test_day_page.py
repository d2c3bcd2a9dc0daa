"""What the page of the day's plan makes of a kept plan."""

from datetime import time, timedelta
from unittest.mock import Mock, patch
from xml.etree import ElementTree

from django.test import SimpleTestCase
from django.utils import timezone

from frimble.films.models import Film
from frimble.jobs.day import presenters, services
from frimble.jobs.day.calendar import as_calendar
from frimble.jobs.models import PlannedDay, ScreenNeed
from frimble.jobs.tests.planned.test_day import DayCase, at
from frimble.people.models import Person
from frimble.ui.pictures.day_lanes import Bar, Lane, day_lanes


def task(screen, kind, start, minutes, person="", place=""):
    begins = at(8) + timedelta(minutes=start)
    ends = begins + timedelta(minutes=minutes)
    return {
        "screen": screen, "kind": kind, "place": place, "start": begins.isoformat(), "end": ends.isoformat(),
        "person": person,
    }  # fmt: skip


def plan(*tasks, **more):
    """A kept plan from 08:00 to 16:00."""
    written = {
        "start": at(8).isoformat(), "end": at(16).isoformat(), "tasks": list(tasks), "jobs": {}, "due": {},
        "status": "feasible",
        "late": 0, "bound": 0, "left_out": [], "why": {}, "helps": [], "moved": {}, "anew": None, "frozen": [],
        "latest": {}, "numbers": {}, "searched": True,
    } | more  # fmt: skip
    return PlannedDay(plan=written, at=at(8), by=Person(username="odile", first_name="Odile"))


class PresenterTests(SimpleTestCase):
    def page(self, *tasks, done=None, now=None, **more):
        return presenters.day_page(plan(*tasks, **more), done or {}, now or at(9))

    def test_each_person_s_open_tasks_are_called_in_their_order(self):
        tasks = [
            task("Q-1", "coat", 30, 3, "Tamsin"),
            task("Q-2", "degrease", 0, 6, "Tamsin"),
            task("Q-2", "dry", 6, 15),
        ]
        tasks += [task("Q-3", "wash", 40 + k, 1, "Tamsin") for k in range(3)]
        (own,) = self.page(*tasks).people
        self.assertEqual(
            [(word, t.screen) for word, t in own.called], [("Now", "Q-2"), ("Next", "Q-1"), ("Then", "Q-3")]
        )
        self.assertEqual((len(own.rest), own.done), (2, 0))
        self.assertTrue(own.called[0][1].url.endswith("/Q-2/do/degrease/"))

    def test_what_should_be_done_by_now_is_said(self):
        # Source: by hand: planned to 08:06, 54 min ago at 09:00.
        late = [task("Q-2", "degrease", 0, 6, "Tamsin"), task("Q-2", "coat", 55, 3, "Tamsin")]
        self.assertIn("1 step behind: degrease Q-2 was to end 54 min ago", self.page(*late).behind)
        self.assertEqual(self.page(*late, done={("Q-2", "degrease"): [at(8, 9)]}).behind, "")

    def test_a_promise_that_slow_coats_break_is_due(self):
        # Source: by hand: planned to 08:06, at the latest 09:00, wanted at 08:30 or at 10:00.
        one = task("Q-2", "degrease", 0, 6, "Tamsin")

        def promised(due, latest):
            (row,) = self.page(one, due={"Q-2": due.isoformat()}, latest={"Q-2": latest}).promised
            return row.words, row.due

        nine = at(9).isoformat()
        tight = "ready 08:06, promise 09:00; wanted 08:30: late if coats dry slowly"
        self.assertEqual(promised(at(8, 30), nine), (tight, True))
        self.assertEqual(promised(at(10), nine), ("ready 08:06, promise 09:00", False))
        self.assertEqual(promised(at(8, 30), None), ("ready 08:06; not the same day if coats dry slowly", True))
        self.assertEqual(promised(at(8), nine), ("ready 08:06, promise 09:00; wanted 08:00", True))

    def test_what_is_done_is_called_no_more_and_drawn_as_done(self):
        tasks = [task("Q-1", "degrease", 0, 6, "Tamsin"), task("Q-1", "coat", 21, 3, "Tamsin")]
        page = self.page(*tasks, done={("Q-1", "degrease"): [at(8, 5)]})
        (own,) = page.people
        self.assertEqual(([t.kind for _, t in own.called], own.done), (["coat"], 1))
        self.assertEqual([bar.done for bar in page.lanes[0].bars], [True, False])

    def test_of_two_layers_one_record_does_the_first(self):
        tasks = [task("Q-1", "coat", 70, 3, "Tamsin"), task("Q-1", "coat", 0, 3, "Tamsin")]
        (own,) = self.page(*tasks, done={("Q-1", "coat"): [at(8, 4)]}).people
        self.assertEqual(([t.start for _, t in own.called], own.done), ([at(9, 10)], 1))

    def test_lanes_lie_in_the_order_in_which_screens_begin_with_their_jobs(self):
        tasks = [task("Q-2", "coat", 60, 3, "Odile"), task("Q-1", "coat", 5, 3, "Odile")]
        page = self.page(*tasks, jobs={"Q-2": "J-301 gold"}, due={"Q-2": at(12).isoformat()})
        # Source: by hand: noon is 240 minutes after 08:00.
        self.assertEqual([(lane.label, lane.due) for lane in page.lanes], [("Q-1", None), ("J-301 gold · Q-2", 240)])
        self.assertEqual(page.hours[:2], [(0, "08:00"), (60, "09:00")])
        self.assertEqual((page.now_min, page.minutes), (60, 480))

    def test_a_plan_of_another_day_says_which_and_calls_nobody_now(self):
        # Source: by hand, from the calendar.
        own = task("Q-1", "coat", 5, 3, "Odile")
        day = at(9)
        for days, words in ((0, "today"), (-1, "tomorrow"), (1, "yesterday"), (2, f"on {day:%A}")):
            page = self.page(own, now=day + timedelta(days=days), left_out=["Q-4"])
            self.assertEqual(page.headline, f"1 screen {words}, 1 not")
            self.assertEqual([row.words for row in page.late], [f"not {words}."])
            self.assertEqual(page.people[0].called[0][0], "First" if days < 0 else "Now")
        self.assertRegex(self.page(own, now=day + timedelta(days=9)).headline, r"1 screen on \d+ [A-Z][a-z]+$")

    def test_before_and_after_the_day_no_moment_is_marked(self):
        self.assertIsNone(self.page(task("Q-1", "coat", 5, 3, "Odile"), now=at(7)).now_min)
        self.assertIsNone(self.page(task("Q-1", "coat", 5, 3, "Odile"), now=at(18)).now_min)

    def test_in_time_late_and_left_out_are_told_apart(self):
        tasks = [task("Q-1", "inspect", 100, 5, "Odile"), task("Q-2", "inspect", 200, 5, "Odile")]
        due = {"Q-1": at(11).isoformat(), "Q-2": at(11).isoformat(), "Q-3": at(15).isoformat()}
        page = self.page(
            *tasks, due=due, late=1505.0, bound=25.0, left_out=["Q-3", "Q-4"], why={"Q-2": "booth", "Q-3": "Odile"}
        )
        self.assertEqual(page.headline, "2 screens today, 2 not")
        self.assertIn("2 screens are late, 1505 min in all; no plan is less late than 25 min.", page.judgement)
        told = {row.code: row.words for row in page.late}
        self.assertEqual(
            told, {"Q-2": "late: waits for booth.", "Q-3": "not today: waits for Odile.", "Q-4": "not today."}
        )

    def test_a_proven_plan_says_that_none_is_less_late(self):
        tasks = [task("Q-1", "inspect", 200, 5, "Odile")]
        page = self.page(*tasks, due={"Q-1": at(11).isoformat()}, late=25, bound=25)
        self.assertEqual(page.judgement, "1 screen is late, 25 min in all; no plan is less late.")
        self.assertEqual(self.page(*tasks).judgement, "Every screen is at press in time.")

    def test_what_would_help_says_by_how_much(self):
        helps = [{"words": "one hour more", "late": 5.0, "left_out": 0}]
        page = self.page(task("Q-1", "inspect", 200, 5, "Odile"), late=25, helps=helps)
        self.assertEqual(page.helps, ["One hour more: 5 min late instead of 25."])


class CalendarTests(SimpleTestCase):
    def test_what_has_a_meaning_in_the_format_is_escaped(self):
        # Source: RFC 5545, 3.3.11: backslash, semicolon and comma are escaped.
        text = as_calendar([task("Q-1", "coat", 0, 3, "Odile", "bench; left, by the door")], at(8), {"Q-1": "J-1 a\\b"})
        self.assertIn("LOCATION:bench\\; left\\, by the door\r\n", text)
        self.assertIn("SUMMARY:Coat Q-1 J-1 a\\\\b\r\n", text)

    def test_long_lines_are_folded_between_whole_letters(self):
        # Source: RFC 5545, 3.1: 75 octets, then CRLF and a space; unfolded they read as before.
        words = "Überdruck grün " * 12
        text = as_calendar([task("Q-1", "coat", 0, 3, "Odile", words)], at(8), {})
        self.assertTrue(all(len(line.encode()) <= 75 for line in text.split("\r\n")))
        self.assertIn(f"LOCATION:{words}", text.replace("\r\n ", ""))


class PictureTests(SimpleTestCase):
    def test_every_bar_is_drawn_and_described(self):
        # Source: Python's XML parser reads it; one rectangle a bar.
        bars = [Bar(0, 6, True, False, "08:00 degrease <Q-1>"), Bar(6, 21, False, True, "dries")]
        drawn = day_lanes([Lane("Q-1 & co", bars, 480, True), Lane("Q-2", [], None, False)], [(0, "08:00")], 30, 480)
        root = ElementTree.fromstring(drawn)  # noqa: S314 - our own picture
        boxes = root.findall(".//{*}rect")
        self.assertEqual([b.get("class") for b in boxes], ["lane-hands", "lane-dries is-done"])
        self.assertEqual(boxes[0].find("{*}title").text, "08:00 degrease <Q-1>")
        self.assertEqual([p.get("class") for p in root.findall(".//{*}path")], ["lane-due is-late"])
        self.assertGreater(float(boxes[1].get("width")), 2 * float(boxes[0].get("width")))

    def test_a_step_of_no_length_can_still_be_seen(self):
        drawn = day_lanes([Lane("Q-1", [Bar(5, 5, True, False, "")], None, False)], [], None, 6000)
        (box,) = ElementTree.fromstring(drawn).findall(".//{*}rect")  # noqa: S314 - our own picture
        self.assertGreaterEqual(float(box.get("width")), 2)


class KeptPlanTests(DayCase):
    def test_a_newer_plan_is_not_searched_over(self):
        for _ in range(2):
            self.client.post("/day/")
        first, second = PlannedDay.objects.all()
        services.improve.call(first.pk)
        self.assertEqual(PlannedDay.objects.count(), 2)
        self.assertIsNone(second.better_than)

    def test_where_all_was_done_meanwhile_nobody_waits_for_a_better_one(self):
        self.client.post("/day/")
        ScreenNeed.objects.update(frame=None)
        services.improve.call(PlannedDay.objects.get().pk)
        first, second = PlannedDay.objects.all()
        self.assertEqual((second.better_than, second.plan), (first, first.plan | {"searched": True}))
        self.assertNotContains(self.client.get("/day/"), "A better one is looked for")

    def moment(self, hour, minute):
        """The planner's clock alone: by the session's, whoever signed in would have been idle for hours."""
        return patch.object(services, "timezone", Mock(now=lambda: at(hour, minute)))

    def planned(self, hour, minute=0, **posted):
        """The day planned at a moment; its steps by screen and kind."""
        with self.moment(hour, minute):
            self.client.post("/day/", posted)
        tasks = PlannedDay.objects.last().plan["tasks"]
        return {(t["screen"], t["kind"]): (t["start"], t["person"]) for t in tasks if t["kind"] != "dry"}

    def test_planned_again_all_stays_that_can(self):
        before = self.planned(6)
        self.assertEqual(self.planned(6, 30), before)
        self.assertEqual(PlannedDay.objects.last().plan["moved"], {})

    def test_what_was_not_done_in_time_moves_and_says_so(self):
        # Source: by hand: nothing is degreased by 09:00, so that both screens begin anew from then on.
        self.planned(6)
        now = self.planned(9)
        self.assertGreaterEqual(min(start for start, _ in now.values()), at(9).isoformat())
        self.assertEqual(set(PlannedDay.objects.last().plan["moved"]), {"Q-014", "Q-015"})
        self.assertContains(self.client.get("/day/"), "Moved against the earlier plan")

    def test_a_frozen_screen_keeps_its_times_and_may_be_let_go(self):
        before = self.planned(6)
        self.client.post("/day/", {"freeze": "Q-015"})
        self.assertContains(self.client.get("/day/"), "Frozen: let it move")
        urgent = ScreenNeed.objects.get(frame__code="Q-014").job
        urgent.press_time = time(7, 30)
        urgent.save()
        after = self.planned(6, 1)
        kept = {key: value for key, value in after.items() if key[0] == "Q-015"}
        self.assertEqual(kept, {key: value for key, value in before.items() if key[0] == "Q-015"})
        self.assertEqual(PlannedDay.objects.last().plan["frozen"], ["Q-015"])
        self.client.post("/day/", {"let_move": "Q-015"})
        self.assertEqual(PlannedDay.objects.last().plan["frozen"], [])
        self.assertContains(
            self.client.post("/day/", {"freeze": "Q-999"}, follow=True), "Q-999 is in no plan of this day"
        )

    def test_what_is_frozen_while_the_search_goes_on_stays_where_it_was_seen(self):
        self.planned(6)
        first = PlannedDay.objects.get()
        for deed in ("freeze", "let_move", "freeze"):
            self.client.post("/day/", {deed: "Q-014"})
        with self.moment(6, 1), patch.object(services, "_SEARCH_S", 0.5):
            services.improve.call(first.pk)
        searched = PlannedDay.objects.last()
        self.assertEqual((searched.plan["frozen"], searched.plan["searched"]), (["Q-014"], True))
        of_it = [
            [t for t in p.plan["tasks"] if t["screen"] == "Q-014" and t["kind"] != "film"] for p in (first, searched)
        ]
        self.assertEqual(*of_it)

    def test_a_named_colour_s_film_is_made_before_its_exposure(self):
        planned = self.planned(6)
        for code in ("Q-014", "Q-015"):
            self.assertLess(planned[code, "film"][0], planned[code, "expose"][0])
        self.assertContains(self.client.get("/day/"), "/film/films/new/?job=J-301")
        film = Film.objects.create(
            name="White", job_number="J-301", separation="White", made_at=at(6), made_by=self.people["odile"]
        )
        self.assertEqual(ScreenNeed.objects.get(frame__code="Q-014").film, film)
        self.assertNotIn(("Q-014", "film"), self.planned(6, 5))

    def test_when_each_is_ready_and_what_may_be_promised(self):
        # Source: the promise is never before the planned end; drying is known here with an interval.
        self.planned(6)
        plan = PlannedDay.objects.get().plan
        for code, latest in plan["latest"].items():
            end = max(t["end"] for t in plan["tasks"] if t["screen"] == code)
            self.assertGreater(latest, end)
        self.assertContains(self.client.get("/day/"), ", promise ")

    def test_press_and_trainees_look_and_do_not_plan(self):
        self.client.force_login(self.people["ines"])
        self.assertContains(self.client.get("/day/"), "No day is planned yet")
        self.assertEqual(self.client.post("/day/").status_code, 403)
        self.assertFalse(PlannedDay.objects.exists())

    def test_a_plan_is_a_record_and_stays(self):
        self.client.post("/day/")
        kept = PlannedDay.objects.get()
        with self.assertRaises(TypeError):
            kept.save()
        self.assertIn(timezone.localtime(kept.at).strftime("%Y-%m-%d"), str(kept))
