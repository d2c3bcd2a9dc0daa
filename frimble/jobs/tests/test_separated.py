"""A set of separations taken in at once."""

import cv2
import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile

from frimble.films.models import Film, ScanCheck
from frimble.jobs.models import ScreenNeed
from frimble.screens.models import MeshType
from frimble.testing.case import PageCase
from frimble.testing.shop import small_shop


def film(name: str) -> SimpleUploadedFile:
    picture = np.full((120, 160), 255, np.uint8)
    picture[30:90, 40:120] = 0
    return SimpleUploadedFile(name, bytes(cv2.imencode(".png", picture)[1]))


class SeparationsTests(PageCase):
    def setUp(self):
        self.client.force_login(small_shop()["tamsin"])
        self.mesh = MeshType.objects.get(thermal=False)

    def send(self, *files, **more):
        typed = {"files": files, "dpi": "300", "encoding": "srgb", "mesh": self.mesh.pk, "formula": "P1 S1"}
        return self.client.post("/jobs/J-301/separations/", typed | more)

    def test_every_file_becomes_a_film_and_a_colour_in_the_order_of_printing(self):
        answer = self.send(film("flag_K.png"), film("flag_Y.png"), film("flag_C.png"), film("flag_M.png"))
        self.assertRedirects(answer, "/jobs/J-301/")
        needs = ScreenNeed.objects.select_related("film")
        # Common practice, no source: Y M C K.
        self.assertEqual([n.colour for n in needs], ["yellow", "magenta", "cyan", "black"])
        self.assertEqual([n.film.separation for n in needs], ["yellow", "magenta", "cyan", "black"])
        self.assertEqual(ScanCheck.objects.filter(mesh=self.mesh).count(), 4)
        self.assertContains(self.client.get("/jobs/J-301/"), "4 colours are")

    def test_one_file_that_cannot_be_read_leaves_all_out(self):
        page = self.send(film("flag_red.png"), SimpleUploadedFile("flag_blue.png", b"no picture at all"))
        self.assertContains(page, "flag_blue.png: ", status_code=422)
        self.assertFalse(Film.objects.exists() or ScreenNeed.objects.exists())

    def test_two_of_one_name_and_a_formula_of_nothing_are_refused(self):
        self.assertContains(self.send(film("a_red.png"), film("a_red.png")), "Two files have one name", status_code=422)
        self.assertContains(self.send(film("a_red.png"), formula="Q9"), "has-error", status_code=422)
        page = self.send()
        self.assertContains(page, "This field is required", status_code=422)
        self.assertContains(page, "Nothing taken in", status_code=422)
        self.assertFalse(Film.objects.exists())
