"""The list of jobs: what comes next above, what was printed below, and its search."""

from datetime import timedelta

from django.utils import timezone

from frimble.jobs import queries
from frimble.jobs.models import Job, ScreenNeed
from frimble.people.models import Person
from frimble.screens.models import MeshType
from frimble.testing.case import PageCase


class JobListTests(PageCase):
    def setUp(self):
        today = timezone.localdate()
        Job.objects.create(number="J-1", name="Heron pennants", press_on=today - timedelta(days=90))
        Job.objects.create(number="J-2", name="Tern flags", press_on=today - timedelta(days=2))
        Job.objects.create(number="J-3", name="Heron pennants", press_on=today + timedelta(days=5))
        Job.objects.create(number="J-4", name="Eider bags")
        Job.objects.create(number="J-5", name="Teal caps", press_on=today)
        self.client.force_login(Person.objects.create_user("wim", role="trainee"))

    def test_the_next_stands_first_and_one_without_a_day_last(self):
        found = queries.search()
        self.assertEqual([j.number for j in found.coming], ["J-5", "J-3", "J-4"])
        self.assertEqual([j.number for j in found.printed], ["J-2", "J-1"])

    def test_one_that_never_came_to_press_stands_first_and_asks_for_a_new_day(self):
        late = Job.objects.get(number="J-2")
        mesh = MeshType.objects.create(count_per_cm=43, thread_um=80)
        ScreenNeed.objects.create(job=late, mesh=mesh, formula="P1 S1", colour="red")
        self.assertEqual([j.number for j in queries.search().coming], ["J-2", "J-5", "J-3", "J-4"])
        self.assertContains(self.client.get("/jobs/"), "was to be on press")
        self.assertContains(self.client.get("/jobs/J-2/"), "give it a new day")
        late.press_on = timezone.localdate()
        late.save()
        self.assertNotContains(self.client.get("/jobs/"), "was to be on press")

    def test_all_words_are_wanted(self):
        found = queries.search("pennants heron")
        self.assertEqual([j.number for j in (*found.coming, *found.printed)], ["J-3", "J-1"])
        self.assertContains(self.client.get("/jobs/", {"q": "zeppelin"}), "No job speaks of “zeppelin”")

    def test_many_jobs_are_paged_and_those_to_come_stand_on_the_first_page_alone(self):
        day = timezone.localdate() - timedelta(days=200)
        Job.objects.bulk_create(Job(number=f"K-{k:03d}", name="Old", press_on=day) for k in range(60))
        first, second = self.client.get("/jobs/"), self.client.get("/jobs/", {"page": 2})
        self.assertContains(first, "To be printed")
        self.assertContains(first, "Page 1 of 3")
        self.assertNotContains(second, "To be printed")
        self.assertContains(second, "K-0")

    def test_an_empty_shop(self):
        Job.objects.all().delete()
        self.assertContains(self.client.get("/jobs/"), "No job is entered yet")
