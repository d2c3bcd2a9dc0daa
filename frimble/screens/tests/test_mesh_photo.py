"""A bare mesh by photo: marks drawn by themselves, the command, and what is refused."""

import io
import json
import tempfile
from pathlib import Path

import cv2
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from django.test import TestCase, override_settings

from frimble.core.mesh.inspection.tests.test_inspecting import DROP, GHOST, taken
from frimble.screens.models import Blemish, Frame, Screen
from frimble.testing.case import PageCase, own_data_folder
from frimble.testing.records import record
from frimble.testing.shop import small_shop


def jpeg(*left) -> bytes:
    photo = taken(*left, size=(1600, 2000))
    return bytes(cv2.imencode(".jpg", photo[:, :, ::-1], [cv2.IMWRITE_JPEG_QUALITY, 92])[1])


class MeshPhotoTests(PageCase):
    def setUp(self):
        self.tamsin = small_shop()["tamsin"]
        self.client.force_login(self.tamsin)
        place = override_settings(MEDIA_ROOT=own_data_folder(self) / "media")
        place.enable()
        self.addCleanup(place.disable)
        Frame.objects.filter(code="Q-014").update(
            outer_width_mm=480, outer_height_mm=580, inner_width_mm=400, inner_height_mm=500
        )

    def send(self, data: bytes, side="print"):
        sent = {"photo": SimpleUploadedFile("a.jpg", data), "side": side}
        return self.client.post("/screens/Q-014/marks/photo/", sent, follow=True)

    def test_what_is_left_is_marked_by_itself_with_its_piece_of_the_photo(self):
        page = self.send(jpeg(GHOST, DROP))
        self.assertContains(page, "Not to be coated yet.")
        spot = Blemish.objects.get(kind="spot")
        # Source: the drop's place on the mesh, and the frame's bars of 40 mm.
        self.assertAlmostEqual(spot.x_mm, 40 + DROP.x_mm, delta=4)
        self.assertAlmostEqual(spot.y_mm, 40 + DROP.y_mm, delta=4)
        self.assertTrue(spot.photo)
        self.assertTrue(Blemish.objects.filter(kind="ghost").exists())

    def test_a_second_photo_marks_nothing_twice(self):
        self.send(jpeg(DROP))
        page = self.send(jpeg(DROP))
        self.assertEqual(Blemish.objects.filter(kind="spot").count(), 1)
        self.assertContains(page, "1 place on the map already")

    def test_a_photo_from_the_squeegee_side_is_turned_over(self):
        self.send(jpeg(DROP), "squeegee")
        # Source: seen from the other side, left and right change.
        self.assertAlmostEqual(Blemish.objects.get().x_mm, 480 - 40 - DROP.x_mm - DROP.width_mm, delta=4)

    def test_a_clean_mesh_says_so_and_marks_nothing(self):
        self.assertContains(self.send(jpeg()), "Nothing new is seen on the mesh")
        self.assertFalse(Blemish.objects.exists())

    def test_a_coated_screen_and_a_photo_of_nothing_are_refused(self):
        dark = bytes(cv2.imencode(".png", taken()[:, :, ::-1] // 250)[1])
        page = self.client.post(
            "/screens/Q-014/marks/photo/", {"photo": SimpleUploadedFile("a.png", dark), "side": "print"}
        )
        self.assertContains(page, "No mesh is seen", status_code=422)
        for kind in ("degrease", "coat"):
            record("Q-014", kind, self.tamsin, summary=kind)
        page = self.client.post(
            "/screens/Q-014/marks/photo/", {"photo": SimpleUploadedFile("a.jpg", jpeg()), "side": "print"}
        )
        self.assertContains(page, "The mesh is not bare", status_code=422)
        self.assertFalse(Blemish.objects.exists())
        self.assertEqual(Screen.objects.for_lists().get(frame__code="Q-014").state, "coated")


class CommandTests(TestCase):
    def test_it_answers_in_json_and_ends_with_two_where_it_cannot(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "mesh.jpg"
            path.write_bytes(jpeg(DROP))
            out = io.StringIO()
            call_command("inspect_mesh", str(path), "--size-mm", "400,500", "--json", stdout=out)
            answer = json.loads(out.getvalue())
            self.assertIsNone(answer["refused"])
            self.assertFalse(answer["passed"])
            (drop,) = answer["findings"]
            self.assertEqual(drop["kind"], "residue")
            self.assertAlmostEqual(drop["x_mm"], DROP.x_mm, delta=4)
            for bad in (["/nowhere.jpg"], [str(path), "--size-mm", "1,500"]):
                with self.assertRaises(SystemExit) as stopped:
                    call_command("inspect_mesh", *bad, stdout=io.StringIO())
                self.assertEqual(stopped.exception.code, 2)
