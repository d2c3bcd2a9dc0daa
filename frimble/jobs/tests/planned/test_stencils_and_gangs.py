"""Kept stencils taken again, colours on one screen, and the mesh that the chooser names."""

from django.utils import timezone

from frimble.core.lifecycle import State
from frimble.exposures.models import Exposure, Lamp
from frimble.films.models import Film, FilmProcess
from frimble.jobs.models import Job, ScreenNeed
from frimble.jobs.tests.planned.test_choosing import ChoosingCase
from frimble.screens.models import MeshType, Screen
from frimble.testing.records import record


class FilmCase(ChoosingCase):
    def film(self, name="Pennant", width=200, height=150, **more):
        made = {"made_at": timezone.now(), "made_by": self.people["odile"], "job_number": "J-301"}
        return Film.objects.create(name=name, width_mm=width, height_mm=height, **made | more)


class KeptStencilTests(FilmCase):
    def setUp(self):
        super().setUp()
        self.kept = self.film()
        event = record("Q-016", "degrease", self.people["odile"], summary="Degreased")
        Exposure.objects.create(
            event=event, film=self.kept, lamp=Lamp.objects.first(), film_process=FilmProcess.objects.first(),
            planned_s=20, given_s=20,
        )  # fmt: skip
        Screen.objects.filter(frame__code="Q-016").update(state=State.STRIPPED)
        self.need("gold", film=self.kept)

    def reorder(self):
        return self.client.post("/jobs/new/", {"number": "J-401", "name": "Again", "like": self.job.pk}, follow=True)

    def test_a_reorder_takes_the_stencil_that_was_kept(self):
        self.assertContains(self.reorder(), "Kept stencils are taken: Q-016 for gold.")
        self.assertEqual(ScreenNeed.objects.get(job__number="J-401").frame.code, "Q-016")
        self.assertContains(self.client.get("/jobs/J-401/"), "Every screen is ready.")

    def test_an_older_job_is_taken_in_again_from_its_own_page(self):
        Job.objects.bulk_create([Job(number=f"K-{k}", name="Pennant") for k in range(160)])
        self.assertContains(self.client.get("/jobs/J-301/"), f"?like={self.job.pk}")
        page = self.client.get("/jobs/new/", {"like": self.job.pk})
        self.assertContains(page, f'value="{self.job.pk}" selected')
        for nonsense in ("abc", "9" * 40, "-1"):
            self.assertEqual(self.client.get("/jobs/new/", {"like": nonsense}).status_code, 200)
            self.assertEqual(self.client.post("/jobs/new/", {"like": nonsense}).status_code, 422)
        self.assertContains(self.reorder(), "Kept stencils are taken")

    def test_one_that_is_held_or_gone_is_not_taken(self):
        ScreenNeed.objects.update(frame=Screen.objects.get(frame__code="Q-016").frame)
        self.assertNotContains(self.reorder(), "Kept stencils")
        self.assertIsNone(ScreenNeed.objects.get(job__number="J-401").frame)

    def test_it_is_the_first_choice_for_its_own_film_and_none_for_another(self):
        page = self.client.get(self.url(ScreenNeed.objects.get()))
        self.assertContains(page, "Q-016 suits best")
        self.assertContains(page, "carries the stencil of its film, 3 min to press")
        other = self.need("red", film=self.film("Other"))
        self.assertNotContains(self.client.get(self.url(other)), "Hold Q-016")


class GangTests(FilmCase):
    def setUp(self):
        super().setUp()
        self.leader = self.need("gold", film=self.film())
        other = Job.objects.create(number="J-302", name="Clocks")
        self.follower = self.need("gold", job=other, film=self.film("Clock", 180, 150))

    def gang(self, leader=None):
        return self.client.post(
            self.url(self.follower), {"act": "gang", "leader": (leader or self.leader).pk}, follow=True
        )

    def test_two_colours_share_a_screen_and_are_set_apart_again(self):
        self.assertContains(self.gang(), "on the screen of J-301 gold")
        self.assertContains(self.client.get("/jobs/screens/"), "1 of 1 colour has a screen that suits")
        self.client.post(self.url(self.leader), {"code": "Q-014"})
        page = self.client.get("/jobs/J-302/")
        self.assertContains(page, "/screens/Q-014/")
        self.assertContains(self.client.get("/jobs/J-301/"), "with J-302 gold on its screen")
        Screen.objects.filter(frame__code="Q-014").update(state=State.READY)
        self.assertContains(self.client.get("/jobs/"), "1 of 1 ready", count=2)
        page = self.client.post(self.url(self.follower), {"code": "Q-015"})
        self.assertContains(page, "It is on the screen of another colour", status_code=422)
        self.client.post(self.url(self.follower), {"act": "apart"})
        self.follower.refresh_from_db()
        self.assertEqual((self.follower.beside, self.follower.number), (None, 1))

    def test_together_they_must_go_on_the_screen(self):
        # Source: by hand: 420 × 560 mm at most; 200 + 30 + 230 beside, 150 + 30 + 400 under each other.
        self.client.post(self.url(self.leader), {"code": "Q-014"})
        Film.objects.filter(name="Clock").update(width_mm=230, height_mm=400)
        page = self.gang()
        self.assertContains(page, "Q-014 takes images of 420 × 560 mm at most", status_code=422)
        self.follower.refresh_from_db()
        self.assertIsNone(self.follower.beside)

    def test_without_sizes_or_with_another_coat_it_is_refused(self):
        Film.objects.filter(name="Clock").update(width_mm=None)
        self.assertContains(self.gang(), "Name the films of both first", status_code=422)
        thick = self.need("red", formula="P2 S3")
        self.assertContains(self.gang(thick), "Select a valid choice", status_code=422)


class MeshByChooserTests(FilmCase):
    def save(self, **posted):
        fields = {"act": "need", "colour": "red", "formula": "P1 S1", "number": 1, "mesh": "", "role": ""}
        return self.client.post("/jobs/J-301/", fields | posted, follow=True)

    def test_by_what_the_plate_does_or_the_film_s_ruling(self):
        # Common practice, no source: 110 per inch (43) for heavy white, 195 (77) for spot colours.
        MeshType.objects.create(count_per_cm=43, thread_um=80)
        self.save(colour="white", role="opaque")
        self.save(colour="red", role="spot")
        counts = dict(ScreenNeed.objects.values_list("colour", "mesh__count_per_cm"))
        self.assertEqual(counts, {"white": 43, "red": 77})
        # Source: 25 lines per inch at four and a half times are 112 per inch, 44 per cm; 77 serves.
        film = self.film(ruling_lpi=25)
        self.save(colour="sea", film=film.pk)
        self.assertEqual(ScreenNeed.objects.get(colour="sea").mesh.count_per_cm, 77)

    def test_with_nothing_to_go_by_it_asks(self):
        page = self.save()
        self.assertContains(page, "Choose the mesh, or say what the plate does", status_code=422)
        self.assertContains(page, 'value="red"', status_code=422)
        self.assertFalse(ScreenNeed.objects.exists())
