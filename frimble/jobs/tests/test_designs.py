"""A job's page: whether its screens' tensions match, and the films and screens of its design."""

from django.utils import timezone

from frimble.films.models import Film, FilmProcess
from frimble.jobs.models import Job
from frimble.press.services import send_to_press
from frimble.screens.models import Screen
from frimble.testing.case import PageCase
from frimble.testing.records import record
from frimble.testing.shop import small_shop


class DesignTests(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.client.force_login(self.people["tamsin"])
        self.job = Job.objects.get()

    def at_press(self, code, tension):
        person = self.people["tamsin"]
        for kind in ("degrease", "coat", "expose", "wash", "inspect"):
            facts = {"layer": 1, "layers": 1} if kind == "coat" else {}
            record(code, kind, person, summary=kind, facts=facts)
        send_to_press(code, self.people["ines"], job=self.job, went_on="in a test")
        Screen.objects.filter(frame__code=code).update(tension_n_per_cm=tension)

    def test_tensions_of_a_job_are_matched(self):
        self.at_press("Q-014", 24.0)
        self.assertNotContains(self.client.get("/jobs/J-301/"), "Their tensions")
        self.at_press("Q-015", 21.5)
        # From memory: screens of one job within ±2 N/cm.
        self.assertContains(self.client.get("/jobs/J-301/"), "Their tensions match.")
        Screen.objects.filter(frame__code="Q-015").update(tension_n_per_cm=19.0)
        page = self.client.get("/jobs/J-301/")
        self.assertContains(page, "Their tensions do not match.")
        self.assertContains(page, "Q-015 at 19.0 and Q-014 at 24.0 N/cm differ by 5.0")

    def test_films_of_every_job_of_the_design_are_listed(self):
        Job.objects.create(number="J-401", name=self.job.name)
        made = {"made_at": timezone.now(), "made_by": self.people["tamsin"], "process": FilmProcess.objects.get()}
        Film.objects.create(name="Pennant", separation="white", job_number="J-301", kept_at="drawer 2", **made)
        page = self.client.get("/jobs/J-401/")
        self.assertContains(page, "Pennant, white")
        self.assertContains(page, "for J-301, kept at drawer 2")
        self.assertContains(self.client.get("/jobs/J-301/"), "Made before as")
