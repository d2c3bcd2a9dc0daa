"""Which mesh is this: the page, the scale strip, the command."""

import io
import json
import tempfile
from pathlib import Path

import cv2
import numpy as np
import pypdfium2
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from django.test import TestCase

from frimble.core.mesh.reading.strip import find_strip
from frimble.core.simulation.mesh_photo import CloseShot, photograph
from frimble.screens.models import MeshType
from frimble.testing.case import PageCase
from frimble.testing.shop import small_shop


def jpeg(count: float, thread: float, px_mm: float) -> bytes:
    """A close photo of a mesh as a phone sends it."""
    shot = CloseShot(count, thread, px_mm=px_mm, size=(1400, 1050))
    picture = photograph(shot, np.random.default_rng(3))
    return bytes(cv2.imencode(".jpg", picture[:, :, ::-1], [cv2.IMWRITE_JPEG_QUALITY, 92])[1])


class PageTests(PageCase):
    def setUp(self):
        self.client.force_login(small_shop()["odile"])
        MeshType.objects.create(count_per_cm=43, thread_um=80)

    def send(self, data: bytes, scale: str = ""):
        sent = {"photo": SimpleUploadedFile("m.jpg", data), "pixels_per_mm": scale}
        return self.client.post("/screens/mesh/read/", sent)

    def test_a_photo_names_the_mesh_and_registers_with_it(self):
        page = self.send(jpeg(43, 80, 45), "45")
        self.assertContains(page, "threads per cm, between")
        mesh = page.context["part"].ours[0]
        self.assertEqual((mesh.count_per_cm, mesh.thread_um), (43, 80))
        self.assertContains(page, f"/screens/register/?mesh={mesh.pk}")
        form = self.client.get(f"/screens/register/?mesh={mesh.pk}")
        self.assertContains(form, f'value="{mesh.pk}" selected')

    def test_a_mesh_that_is_not_on_the_list_is_offered_to_the_lead(self):
        page = self.send(jpeg(21, 140, 25), "25")
        self.assertContains(page, "Add 21-140 to the list")
        self.assertContains(self.client.get("/screens/mesh/add/?notation=21-140"), 'value="21-140"')

    def test_no_scale_and_no_photo_are_said(self):
        page = self.send(jpeg(43, 80, 45))
        self.assertContains(page, "scale strip", status_code=422)
        self.assertContains(self.send(b"%PDF-1.4"), "This is a PDF", status_code=422)
        page = self.send(jpeg(43, 80, 45), "-4")
        self.assertContains(page, 'value="-4"', status_code=422)

    def test_the_strip_is_printed_at_its_true_size(self):
        # Source: the markers as the printed sheet is rasterised at 600 dots an inch, 23.62 a mm.
        answer = self.client.get("/screens/mesh/scale-strip.pdf")
        sheet = pypdfium2.PdfDocument(b"".join(answer) if answer.streaming else answer.content)[0]
        grey = np.asarray(sheet.render(scale=600 / 72, grayscale=True).to_numpy())
        grey = grey[..., 0] if grey.ndim == 3 else grey
        first = grey[: round(65 * 600 / 25.4)]
        along, across = np.linalg.norm(find_strip(np.ascontiguousarray(first)).px_per_mm(), axis=0)
        self.assertAlmostEqual(along, 600 / 25.4, delta=0.12)
        self.assertAlmostEqual(across, 600 / 25.4, delta=0.24)


class CommandTests(TestCase):
    def answer(self, *arguments):
        out = io.StringIO()
        call_command("read_mesh", *arguments, "--json", stdout=out)
        return json.loads(out.getvalue())

    def test_it_answers_in_json(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "mesh.jpg"
            path.write_bytes(jpeg(77, 48, 60))
            answer = self.answer(str(path), "--pixels-per-mm", "60")
            self.assertIsNone(answer["refused"])
            self.assertAlmostEqual(answer["count_per_cm"], 77, delta=1.5)
            self.assertIn("77-48", answer["nearest"])
            refused = self.answer(str(path))
            self.assertIn("scale", refused["refused"])
            self.assertIsNone(refused["count_per_cm"])
            self.assertEqual(refused["nearest"], [])

    def test_what_cannot_be_used_ends_with_two(self):
        for arguments in (["/nowhere.jpg"], [__file__]):
            out = io.StringIO()
            with self.assertRaises(SystemExit) as stopped:
                call_command("read_mesh", *arguments, stdout=out)
            self.assertEqual(stopped.exception.code, 2)
            self.assertIn("error", json.loads(out.getvalue()))
