"""The command that proofs a film: its answer, its picture, and what it cannot use."""

import json
import tempfile
from pathlib import Path

import cv2
import numpy as np
from django.test import TestCase

from frimble.testing.commands import run_command

_GIVEN = {
    "--mesh": "43-80", "--thickness-um": "140", "--over-mesh-um": "20", "--time": "60", "--full-s": "50", "--gel-s": "10",
    "--dmax": "3.2", "--dmin": "0.05",
}  # fmt: skip


class StencilProofTests(TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        film = np.full((400, 600), 255, np.uint8)
        film[100:300, 100:500] = 0
        film[100:300, 40:42] = 0
        self.film = self.folder / "film.png"
        self.film.write_bytes(bytes(cv2.imencode(".png", film)[1]))

    def run_it(self, *more, film=None, **changed):
        given = _GIVEN | {f"--{name.replace('_', '-')}": value for name, value in changed.items()}
        arguments = [part for pair in given.items() for part in pair]
        return run_command("stencil_proof", str(film or self.film), "--dpi", "600", *arguments, *more)

    def test_the_answer_has_the_shape_that_others_rely_on(self):
        text, code = self.run_it("--json")
        found = json.loads(text)
        self.assertEqual(code, 0)
        self.assertLessEqual({"opened_share", "findings", "finest_open_um", "finest_standing_um"}, set(found))
        (closed,) = [f for f in found["findings"] if f["kind"] == "closes"]
        # Source: the film: two pixels of 600 dpi at 40, from row 100 on.
        self.assertAlmostEqual(closed["x_mm"], 40 / 600 * 25.4, delta=0.1)
        self.assertAlmostEqual(closed["y_mm"], 100 / 600 * 25.4, delta=0.1)
        self.assertAlmostEqual(closed["height_mm"], 200 / 600 * 25.4, delta=0.2)
        self.assertTrue(closed["why"])

    def test_the_picture_is_white_where_the_stencil_opens(self):
        out = self.folder / "proof.png"
        self.run_it("--out", str(out))
        picture = cv2.imread(str(out), cv2.IMREAD_UNCHANGED)
        self.assertEqual(
            (picture.shape, picture[200, 300], picture[200, 41], picture[50, 300]), ((400, 600), 255, 0, 0)
        )

    def test_yellow_thread_and_a_given_spread_open_finer(self):
        finest = [json.loads(self.run_it("--json", *more)[0])["finest_open_um"] for more in ((), ("--yellow",))]
        self.assertGreater(finest[0], finest[1])
        self.assertLess(json.loads(self.run_it("--json", spread_um="5")[0])["finest_open_um"], finest[1])

    def test_in_sentences(self):
        text, _ = self.run_it()
        self.assertIn("of the film's black opens", text)
        self.assertIn("Closes: ", text)

    def test_what_cannot_be_used_is_told_in_json_with_code_2(self):
        for more in ({"mesh": "fishnet"}, {"time": "0"}, {"full_s": "5"}, {"dmax": "0"}, {"over_mesh_um": "500"}):
            with self.subTest(more):
                text, code = self.run_it("--json", **more)
                self.assertEqual(code, 2)
                self.assertTrue(json.loads(text)["error"])
        self.assertEqual(self.run_it("--json", film=self.folder / "none.png")[1], 2)
        text_file = self.folder / "film.txt"
        text_file.write_text("no film")
        self.assertEqual(self.run_it("--json", film=text_file)[1], 2)
