"""A film from upload to judgement, the queue's work done in the test."""

import io
import json
import tempfile
from pathlib import Path
from unittest import mock

import cv2
import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import CommandError, call_command
from django.test import override_settings

from frimble.core.simulation.scanner import ScannerOptics, SimulatedFilm, scan
from frimble.films.checks import pictures as scan_pictures
from frimble.films.models import DensityReading, Film, FilmProcess, Judgement, ScanCheck
from frimble.people.background import MOST_TRIES
from frimble.screens.models import MeshType
from frimble.testing.case import PageCase
from frimble.testing.shop import small_shop

_NOW = {"default": {"BACKEND": "django_tasks.backends.immediate.ImmediateBackend"}}


def a_scan():
    """(PNG bytes of a small film with one pinhole and one weak area, its wedge as typed)."""
    film = SimulatedFilm(130, 60, 400, dmax=3.0)
    film.solid(5, 5, 60, 30)
    film.pinhole(15, 15, 0.2)
    film.weak_area(30, 12, 15, 10, 1.7)
    film.step_wedge(4, 42, 10)
    codes, _ = scan(film, ScannerOptics(), 3)
    x, y, patch, densities = film.wedge
    return cv2.imencode(".png", codes)[1].tobytes(), f"{x},{y},{patch}," + "/".join(map(str, densities))


@override_settings(TASKS=_NOW)
class CheckingTests(PageCase):
    @classmethod
    def setUpTestData(cls):
        cls.people = small_shop()
        cls.data, cls.wedge = a_scan()

    def setUp(self):
        self.client.force_login(self.people["tamsin"])

    def film(self):
        return Film.objects.create(
            name="Pennant",
            process=FilmProcess.objects.get(),
            made_at="2026-01-01T10:00Z",
            made_by=self.people["tamsin"],
        )

    def send(self, film, data=None, **typed):
        given = {"dpi": "400", "encoding": "srgb", "wedge": self.wedge, "scan": self.upload(data)} | typed
        with self.captureOnCommitCallbacks(execute=True):
            return self.client.post(f"/film/films/{film.pk}/", given)

    def upload(self, data):
        return SimpleUploadedFile("any.png", self.data if data is None else data)

    def checked(self):
        film = self.film()
        self.assertEqual(self.send(film).status_code, 302)
        return film.checks.get()

    def test_a_scan_is_checked_and_shown(self):
        check = self.checked()
        self.assertEqual(check.state, ScanCheck.State.DONE)
        self.assertEqual({f["kind"] for f in check.result["findings"]}, {"pinhole", "weak_area"})
        self.assertAlmostEqual(check.result["dmax"], 3.0, delta=0.05)
        page = self.client.get(f"/film/sheets/{check.pk}/")
        self.assertContains(page, "Do not use yet.")
        self.assertContains(page, "Opaque pen on the hole")
        for part in ("picture.png?dark=1", "densities.png", "loupe.png?x=15&y=15&side=6"):
            answer = self.client.get(f"/film/sheets/{check.pk}/{part}")
            self.assertEqual(answer["Content-Type"], "image/png")
        self.assertEqual(self.client.get(f"/film/sheets/{check.pk}/loupe.png?x=a").status_code, 400)

    def test_safelight_pictures_have_no_blue(self):
        check = self.checked()
        for part in ("picture.png?dark=1", "loupe.png?x=15&y=15&side=6&dark=1"):
            data = self.client.get(f"/film/sheets/{check.pk}/{part}").content
            pixels = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR)
            self.assertEqual(int(pixels[:, :, 0].max()), 0)
            self.assertGreater(int(pixels[:, :, 2].max()), 100)

    def test_judging_wants_a_reason_to_dismiss(self):
        check = self.checked()
        address = f"/film/sheets/{check.pk}/"
        refused = self.client.post(address, {"finding": 0, "reason": ""})
        self.assertContains(refused, "Say why it is dismissed", status_code=422)
        self.assertEqual(Judgement.objects.count(), 0)
        self.client.post(address, {"finding": 0, "reason": "outside the print"})
        self.client.post(address, {"finding": 0, "accepted": "on"})
        self.assertEqual([j.accepted for j in Judgement.objects.all()], [False, True])
        self.assertEqual(self.client.post(address, {"finding": 99, "accepted": "on"}).status_code, 422)

    def test_densities_are_kept_under_their_own_route(self):
        check = self.checked()
        self.client.post(f"/film/sheets/{check.pk}/", {"keep_density": "1"})
        reading = DensityReading.objects.filter(route="scan").get()
        self.assertEqual((reading.band, reading.process), ("visual", FilmProcess.objects.get()))
        self.assertAlmostEqual(reading.dmax, 3.0, delta=0.05)

    def test_a_wedge_given_by_its_densities_is_found(self):
        film = self.film()
        self.send(film, wedge=self.wedge.rsplit(",", 1)[1])
        result = film.checks.get().result
        self.assertTrue(result["calibrated"])
        self.assertAlmostEqual(result["dmax"], 3.0, delta=0.06)
        self.assertIn("Wedge found", result["notes"][0])

    def again(self, check, **typed):
        with self.captureOnCommitCallbacks(execute=True):
            return self.client.post(f"/film/sheets/{check.pk}/", {"densities": "", "mesh": ""} | typed)

    def test_a_wedge_is_placed_on_the_sheet_and_the_scan_checked_again(self):
        film = self.film()
        self.send(film, wedge="")
        first = film.checks.get()
        x, y, patch, densities = self.wedge.split(",")
        said = self.again(first, x_mm=x, y_mm=y, densities=densities)
        self.assertContains(said, "A placed wedge wants its corner, the side of a patch", status_code=422)
        self.assertContains(said, densities, status_code=422)
        said = self.again(first, x_mm=x, y_mm=y, patch_mm=patch, densities="0.5/0.4/0.9")
        self.assertContains(said, "must rise, or fall", status_code=422)
        self.assertEqual(film.checks.count(), 1)
        # Placed by hand a millimetre off, and for a mesh.
        mesh = MeshType.objects.filter(thermal=False).first()
        self.assertEqual(
            self.again(
                first, x_mm=str(float(x) + 0.7), y_mm=y, patch_mm=patch, densities=densities, mesh=mesh.pk
            ).status_code,
            302,
        )
        second = film.checks.first()
        self.assertAlmostEqual(second.result["dmax"], 3.0, delta=0.06)
        self.assertEqual((second.mesh, second.scan.name), (mesh, first.scan.name))
        first.refresh_from_db()
        self.assertFalse(first.result["calibrated"])
        page = self.client.get(f"/film/sheets/{second.pk}/")
        self.assertContains(page, densities)

    def test_artwork_has_no_densities(self):
        from PIL import Image

        sheet = np.full((400, 600), 255, np.uint8)
        sheet[50:300, 60:400] = 0
        file = io.BytesIO()
        Image.fromarray(sheet).convert("1").save(file, "PNG")
        film = self.film()
        self.send(film, file.getvalue(), wedge="")
        check = film.checks.get()
        self.assertTrue(check.result["passed"], check.result["reason"])
        self.assertIsNone(check.result["dmax"])
        page = self.client.get(f"/film/sheets/{check.pk}/")
        self.assertContains(page, "Artwork, not a scan")
        self.assertNotContains(page, "densities.png")

    def test_a_check_that_a_killed_worker_left_is_taken_up_again(self):
        check = self.checked()
        ScanCheck.objects.filter(pk=check.pk).update(state=ScanCheck.State.RUNNING, result=None, share_done=0.4)
        with self.captureOnCommitCallbacks(execute=True):
            call_command("tidy_scans", stdout=io.StringIO())
        check.refresh_from_db()
        self.assertEqual(check.state, ScanCheck.State.DONE)
        self.assertEqual(len(check.result["findings"]), 2)

    def test_a_check_that_crashes_says_so_and_is_tried_again(self):
        broken = mock.patch("frimble.core.film.check.check_and_read", side_effect=ZeroDivisionError("x"))
        with broken, self.assertLogs("frimble.films.checks.services", "ERROR") as log:
            check = self.checked()
        self.assertIn("Traceback", log.output[0])
        self.assertEqual(check.state, ScanCheck.State.FAILED)
        address = f"/film/sheets/{check.pk}/"
        page = self.client.get(address)
        self.assertContains(page, "not of the film (ZeroDivisionError)")
        self.assertContains(page, "Try again")
        self.assertTrue(self.client.get(f"{address}progress/").json()["ended"])
        with self.captureOnCommitCallbacks(execute=True):
            self.client.post(address, {"try_again": "1"})
        check.refresh_from_db()
        self.assertEqual((check.state, check.tries, check.refusal), (ScanCheck.State.DONE, 1, ""))

    def test_a_check_that_takes_its_worker_with_it_is_not_tried_for_ever(self):
        check = self.checked()
        state = ScanCheck.State.RUNNING
        ScanCheck.objects.filter(pk=check.pk).update(state=state, result=None, tries=MOST_TRIES)
        call_command("tidy_scans", stdout=io.StringIO())
        check.refresh_from_db()
        self.assertEqual(check.state, ScanCheck.State.FAILED)
        self.assertIn("broken off 3 times", check.refusal)

    def test_only_a_failed_check_is_tried_again(self):
        check = self.checked()
        answer = self.client.post(f"/film/sheets/{check.pk}/", {"try_again": "1"}, follow=True)
        self.assertContains(answer, "Only a check that broke off is tried again.")
        self.assertContains(answer, "Do not use yet.")

    def test_an_unpacked_scan_that_was_cleared_is_made_again(self):
        check = self.checked()
        before = self.client.get(f"/film/sheets/{check.pk}/loupe.png?x=15&y=15&side=6").content
        self.assertEqual(scan_pictures.clear_unpacked(unused_days=-1), 1)
        self.assertFalse(Path(check.detail.path).exists())
        self.assertEqual(self.client.get(f"/film/sheets/{check.pk}/loupe.png?x=15&y=15&side=6").content, before)

    def test_a_long_list_of_films_is_paged_and_searched(self):
        made = {"made_at": "2026-01-01T10:00Z", "made_by": self.people["tamsin"]}
        Film.objects.bulk_create([Film(name=f"Flag {n}", kept_at="drawer 7", **made) for n in range(60)])
        Film.objects.create(name="Oyster stamp", job_number="J-305", **made)
        first = self.client.get("/film/")
        self.assertContains(first, "Page 1 of 2, 61 in all")
        self.assertEqual(len(self.client.get("/film/?page=2").context["page"]), 11)
        outcome = self.client.get("/film/?q=oyster+j-305")
        self.assertEqual([f.name for f in outcome.context["page"]], ["Oyster stamp"])
        self.assertContains(self.client.get("/film/?q=anchor"), "No film has “anchor”")

    def test_densities_without_a_wedge_are_not_kept(self):
        film = self.film()
        self.send(film, wedge="")
        self.client.post(f"/film/sheets/{film.checks.get().pk}/", {"keep_density": "1"})
        self.assertFalse(DensityReading.objects.filter(route="scan").exists())

    def test_bad_files_are_told_at_once_or_in_the_check(self):
        film = self.film()
        answer = self.send(film, b"not a picture")
        self.assertContains(answer, "PNG, TIFF, JPEG and PDF are accepted", status_code=422)
        self.assertContains(self.send(film, wedge="1,2"), "is not a wedge", status_code=422)
        self.assertFalse(film.checks.exists())
        self.send(film, self.data[: len(self.data) // 2])
        self.assertIn("cut short", film.checks.get().refusal)
        self.assertContains(self.client.get(f"/film/sheets/{film.checks.get().pk}/"), "Send another scan")

    def test_separations_of_a_job_are_compared(self):
        for name, shift in (("white", 0.0), ("gold", 0.5), ("sky", None)):
            sheet = SimulatedFilm(120, 80, 400)
            sheet.solid(40, 20, 30, 30)
            for x, y in ((8, 8), (112, 8), (8, 72), (112, 72)) if shift is not None else ():
                sheet.line([(x - 3 + shift, y), (x + 3 + shift, y)], 0.3)
                sheet.line([(x + shift, y - 3), (x + shift, y + 3)], 0.3)
            film = self.film()
            Film.objects.filter(pk=film.pk).update(job_number="J-301", separation=name)
            self.send(film, cv2.imencode(".png", scan(sheet, ScannerOptics(), 1)[0])[1].tobytes(), wedge="")
        page = self.client.get("/film/separations/j-301/")
        self.assertContains(page, "shows 4 register marks")
        self.assertContains(page, "Shifted +0.50 mm across")
        self.assertContains(page, "The two films have 0 register marks in common")
        self.assertContains(self.client.get("/film/separations/J-999/"), "No film of this job is checked yet")

    def test_progress_is_told(self):
        check = self.checked()
        said = self.client.get(f"/film/sheets/{check.pk}/progress/").json()
        self.assertTrue(said["ended"])

    def test_the_press_may_look_but_not_send(self):
        film = self.film()
        self.client.force_login(self.people["ines"])
        self.assertEqual(self.client.get(f"/film/films/{film.pk}/").status_code, 200)
        self.assertEqual(self.send(film).status_code, 403)


class CommandTests(PageCase):
    """`film_check` as other programs call it."""

    def run_on(self, data, *arguments):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "scan.png"
            path.write_bytes(data)
            out = io.StringIO()
            call_command("film_check", str(path), *arguments, stdout=out)
            return out.getvalue()

    def test_json(self):
        data, wedge = a_scan()
        said = json.loads(self.run_on(data, "--dpi", "400", "--wedge", wedge, "--encoding", "srgb", "--json"))
        self.assertLessEqual({"dmax", "dmax_is_lower_bound", "dmin", "passed", "findings", "seconds"}, set(said))
        self.assertEqual(set(said["seconds"]), {"decode", "analyse"})
        hole = next(f for f in said["findings"] if f["kind"] == "pinhole")
        self.assertEqual(set(hole), {"kind", "x_mm", "y_mm", "width_mm", "height_mm", "value"})
        self.assertAlmostEqual(hole["x_mm"] + hole["width_mm"] / 2, 15, delta=0.1)
        self.assertAlmostEqual(hole["y_mm"] + hole["height_mm"] / 2, 15, delta=0.1)
        self.assertFalse(said["passed"])

    def test_limits_on_the_line_change_the_answer(self):
        data, wedge = a_scan()
        said = json.loads(
            self.run_on(
                data, "--dpi", "400", "--wedge", wedge, "--min-pinhole-mm", "0.5", "--min-density", "1.2", "--json"
            )
        )
        self.assertEqual(said["findings"], [])
        self.assertTrue(said["passed"])

    def test_words_and_refusals(self):
        data, wedge = a_scan()
        self.assertIn("1 pinhole", self.run_on(data, "--dpi", "400", "--wedge", wedge))
        with self.assertRaisesMessage(CommandError, "not a picture"):
            self.run_on(b"words", "--dpi", "400")
        with self.assertRaisesMessage(CommandError, "cannot be opened"):
            call_command("film_check", "/nowhere/at/all.png")
