"""Inspecting by photo: the page, what is decided about each fault, and the command that others rely on."""

import io
import json
import tempfile
from datetime import timedelta
from pathlib import Path
from unittest import mock

import cv2
from django.core.files.base import ContentFile
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from django.db import connection
from django.test import TestCase, override_settings
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from frimble.core.stencil.inspection.tests.pictures import DPI, FAULTS, film, photo
from frimble.exposures.models import Exposure, Lamp
from frimble.films.models import Film, FilmProcess, ScanCheck
from frimble.press.gate.queries import sheet_of
from frimble.screens.models import Screen, ScreenEvent
from frimble.stencils.inspecting.photo import services as photo_services
from frimble.stencils.models import FindingDecision, StencilPhoto
from frimble.testing.case import PageCase, own_data_folder
from frimble.testing.records import record
from frimble.testing.shop import small_shop


def film_file() -> bytes:
    """The film as a raster, black where it prints."""
    return bytes(cv2.imencode(".png", (~film()).astype("uint8") * 255)[1])


class PhotoPageTests(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.tamsin = self.people["tamsin"]
        self.client.force_login(self.tamsin)
        place = override_settings(MEDIA_ROOT=own_data_folder(self) / "media")
        place.enable()
        self.addCleanup(place.disable)
        for kind in ("degrease", "coat", "expose", "wash"):
            record("Q-014", kind, self.tamsin, summary=kind)

    def test_its_own_film_is_offered_first_however_old_its_scan_is_and_without_a_query_for_each(self):
        # Common practice, no source.
        done = {"state": "done", "by": self.tamsin, "result": {"passed": True, "reason": "", "findings": []}}
        films = (Film(name=f"Film {k}", made_at=timezone.now(), made_by=self.tamsin) for k in range(210))
        own, *others = Film.objects.bulk_create(films)
        oldest = ScanCheck.objects.create(film=own, at=timezone.now() - timedelta(days=400), **done)
        under = {"lamp": Lamp.objects.get(), "film_process": FilmProcess.objects.get(), "planned_s": 20, "given_s": 20}
        Exposure.objects.create(event=ScreenEvent.objects.get(kind="expose"), film=own, **under)
        address = "/stencil/Q-014/photo/"
        self.client.get(address)
        with CaptureQueriesContext(connection) as of_one:
            self.client.get(address)
        asked = len(of_one)
        ScanCheck.objects.bulk_create(ScanCheck(film=film, at=timezone.now(), **done) for film in others)
        form = self.client.get(address).context["form"]
        self.assertEqual(form.fields["scan"].records[0], oldest)
        self.assertEqual(form["scan"].value(), oldest.pk)
        with self.assertNumQueries(asked):
            self.client.get(address)

    def add_film(self):
        made = Film.objects.create(name="Quay", made_at=timezone.now(), made_by=self.tamsin)
        scan = ScanCheck(
            film=made, dpi=DPI, state=ScanCheck.State.DONE, result={"passed": True, "reason": "as it should be"},
            at=timezone.now(), by=self.tamsin,
        )  # fmt: skip
        scan.scan.save("scan", ContentFile(film_file()))
        return scan

    def send(self, data, scan, code="Q-014", **typed):
        sent = {
            "scan": scan.pk,
            "want_mm": "0.3",
            "pinhole_mm": "0.3",
            "photo": SimpleUploadedFile("a.jpg", data),
        } | typed
        page = self.client.post(f"/stencil/{code}/photo/", sent, follow=True)
        waiting = StencilPhoto.objects.filter(state="waiting").first()
        if waiting is None:
            return page
        self.assertContains(page, "Holding the photo against its film")
        self.assertFalse(self.client.get(f"/stencil/photos/{waiting.pk}/progress/").json()["ended"])
        photo_services.compare.call(waiting.pk)
        return self.client.get(f"/stencil/photos/{waiting.pk}/")

    def test_faults_are_drawn_and_each_is_decided(self):
        page = self.send(photo(), self.add_film())
        self.assertContains(page, f"{len(FAULTS)} faults, {len(FAULTS)} to decide")
        self.assertContains(page, "The print side, 100 % of the film in view.")
        self.assertContains(page, 'class="fault-box"', count=len(FAULTS))
        shown = StencilPhoto.objects.get()
        self.assertEqual((shown.by, shown.installation.frame.code, shown.refused), (self.tamsin, "Q-014", ""))
        address = f"/stencil/photos/{shown.pk}/"
        page = self.client.post(address, {"finding": "0", "what": "none"})
        self.assertContains(page, "Say why it is no fault.", status_code=422)
        self.client.post(address, {"finding": "0", "what": "filler"})
        page = self.client.get(address)
        self.assertContains(page, f"{len(FAULTS)} faults, {len(FAULTS) - 1} to decide")
        self.assertContains(page, "blocked with filler, Tamsin")
        self.assertEqual(self.client.get(f"{address}picture.png?dark=1").status_code, 200)
        for typed in (
            {"finding": "99", "what": "tape"},
            {"finding": "0", "what": "glue"},
            {"finding": "x", "what": "tape"},
        ):
            self.assertEqual(self.client.post(address, typed).status_code, 422)
        self.assertEqual(FindingDecision.objects.count(), 1)

    def test_a_photo_that_tells_nothing_is_kept_with_its_reason(self):
        grey = bytes(
            cv2.imencode(".jpg", (film()[:1500, :2000] * 0 + 128).astype("uint8").repeat(2, 0).repeat(2, 1))[1]
        )
        page = self.send(grey, self.add_film())
        self.assertContains(page, "Not told by this photo")
        self.assertIn("not found", StencilPhoto.objects.get().refused)

    def test_one_that_broke_off_says_so_and_is_tried_again(self):
        scan = self.add_film()
        broken = mock.patch("frimble.core.stencil.inspection.inspecting.inspect", side_effect=ZeroDivisionError)
        with broken, self.assertLogs("frimble.stencils.inspecting.photo.services", "ERROR"):
            page = self.send(photo(), scan)
        self.assertContains(page, "It broke off: a fault of Frimble&#x27;s (ZeroDivisionError)")
        shown = StencilPhoto.objects.get()
        self.client.post(f"/stencil/photos/{shown.pk}/", {"try_again": "1"})
        shown.refresh_from_db()
        self.assertEqual((shown.state, shown.tries), ("waiting", 0))
        page = self.client.post(f"/stencil/photos/{shown.pk}/", {"try_again": "1"}, follow=True)
        self.assertContains(page, "Only one that broke off is tried again.")
        self.assertEqual(photo_services.take_up_left(), 1)

    def test_a_later_photo_that_tells_nothing_takes_no_filler_off_the_stencil(self):
        scan = self.add_film()
        self.client.post("/stencil/Q-014/by-eye/", {"scan": scan.pk})
        sheet = StencilPhoto.objects.get()
        self.client.post(f"/stencil/photos/{sheet.pk}/", {"kind": "pinhole", "x_mm": "9", "y_mm": "5", "size_mm": "1"})
        self.client.post(f"/stencil/photos/{sheet.pk}/", {"finding": 0, "what": "filler"})
        StencilPhoto.objects.create(
            installation=sheet.installation, cycle=sheet.cycle, scan=scan, want_mm=0.3, pinhole_mm=0.3,
            refused="The photo is blurred.", state="done", result={"findings": []}, at=timezone.now(), by=self.tamsin,
        )  # fmt: skip
        self.assertEqual(sheet_of(Screen.objects.get(frame__code="Q-014")), sheet)

    def test_what_is_no_photo_is_told_beside_its_field(self):
        scan = self.add_film()
        for data, words in ((b"%PDF-1.7", "a PDF"), (b"\0\0\0\x18ftypheic", "HEIC"), (b"", "empty")):
            self.assertContains(self.send(data, scan), words, status_code=422)
        page = self.send(photo(), scan, want_mm="-1")
        self.assertContains(page, "must be between 0.1 and 5", status_code=422)
        self.assertFalse(StencilPhoto.objects.exists())

    def test_without_a_stencil_or_a_film_it_says_so(self):
        self.assertContains(self.client.get("/stencil/Q-014/photo/"), "No film to hold it against")
        scan = self.add_film()
        self.assertContains(self.client.get("/stencil/Q-014/photo/"), "Quay")
        page = self.send(photo(), scan, code="Q-015")
        self.assertContains(page, "No finished stencil is on it", status_code=422)
        self.assertEqual(Screen.objects.get(frame__code="Q-015").state, "bare")
        self.assertContains(self.client.get("/stencil/Q-014/inspect/"), "Inspect by photo")

    def test_faults_are_tapped_by_eye_on_the_films_drawing_without_any_photo(self):
        page = self.client.post("/stencil/Q-014/by-eye/", {"scan": self.add_film().pk}, follow=True)
        self.assertContains(page, "Tap what you see")
        sheet = StencilPhoto.objects.get()
        self.assertFalse(sheet.photo)
        tap = {"kind": "pinhole", "x_mm": "30", "y_mm": "42.5", "size_mm": "0.8"}
        page = self.client.post(f"/stencil/photos/{sheet.pk}/", tap, follow=True)
        self.assertContains(page, "1 fault, 1 to decide")
        self.assertContains(page, "0.8 mm")
        self.client.post(f"/stencil/photos/{sheet.pk}/", {"finding": 0, "what": "filler"})
        self.assertEqual(FindingDecision.objects.get().get_what_display(), "blocked with filler")
        self.assertContains(self.client.get(f"/stencil/photos/{sheet.pk}/"), "1 fault, each decided")

    def test_without_a_stencil_the_drawing_is_not_begun_and_that_is_said(self):
        page = self.client.post("/stencil/Q-015/by-eye/", {"scan": self.add_film().pk}, follow=True)
        self.assertContains(page, "No finished stencil is on it")
        self.assertFalse(StencilPhoto.objects.exists())

    def test_what_lies_on_a_fault_is_what_was_decided_last(self):
        self.client.post("/stencil/Q-014/by-eye/", {"scan": self.add_film().pk})
        sheet = StencilPhoto.objects.get()
        for place in ("10", "20", "30"):
            tap = {"kind": "pinhole", "x_mm": place, "y_mm": "5", "size_mm": "1"}
            self.client.post(f"/stencil/photos/{sheet.pk}/", tap)
        for finding, what in ((0, "filler"), (1, "tape"), (2, "left"), (1, "left")):
            self.client.post(f"/stencil/photos/{sheet.pk}/", {"finding": finding, "what": what})
        self.assertEqual(sheet.number_mended, 1)

    def test_a_tap_beyond_any_film_is_refused_and_stays_typed(self):
        self.client.post("/stencil/Q-014/by-eye/", {"scan": self.add_film().pk})
        sheet = StencilPhoto.objects.get()
        typed = {"kind": "scum", "x_mm": "-3", "y_mm": "5", "size_mm": "2"}
        page = self.client.post(f"/stencil/photos/{sheet.pk}/", typed)
        self.assertContains(page, 'value="-3"', status_code=422)
        self.assertFalse(sheet.tapped.exists())

    def test_a_tapped_fault_follows_those_of_the_photo(self):
        page = self.send(photo(), self.add_film())
        sheet = StencilPhoto.objects.get()
        tap = {"kind": "blocked", "x_mm": "50", "y_mm": "50", "size_mm": "3"}
        page = self.client.post(f"/stencil/photos/{sheet.pk}/", tap, follow=True)
        self.assertContains(page, f"{len(FAULTS) + 1} faults")
        self.assertContains(page, f'id="finding-{len(FAULTS) + 1}"')


class CommandTests(TestCase):
    def run_on(self, *options, data=None):
        with tempfile.TemporaryDirectory() as folder:
            paths = Path(folder) / "photo.jpg", Path(folder) / "film.png"
            paths[0].write_bytes(photo() if data is None else data)
            paths[1].write_bytes(film_file())
            out, code = io.StringIO(), 0
            try:
                call_command(
                    "inspect_stencil", str(paths[0]), "--film", str(paths[1]), "--dpi", "300", *options, stdout=out
                )
            except SystemExit as left:
                code = left.code
            return out.getvalue(), code

    def test_it_answers_in_json_as_others_rely_on(self):
        text, code = self.run_on("--json")
        found = json.loads(text)
        self.assertEqual((code, found["refused"], found["side"], found["passed"]), (0, None, "print", False))
        self.assertEqual(sorted(f["kind"] for f in found["findings"]), sorted(f.kind for f in FAULTS))
        keys = {"kind", "x_mm", "y_mm", "width_mm", "height_mm", "value", "why", "do"}
        self.assertEqual(set(found["findings"][0]), keys)
        self.assertGreater(found["seconds"]["analyse"], 0)

    def test_in_words(self):
        text, _ = self.run_on()
        self.assertIn("The print side, 100% of the film in view", text)
        self.assertIn("Pinhole at", text)

    def test_what_cannot_be_used_is_told_with_code_2(self):
        text, code = self.run_on("--json", data=b"GIF89a")
        self.assertEqual((code, "a GIF" in json.loads(text)["error"]), (2, True))
        text, code = self.run_on("--json", "--want-mm", "90")
        self.assertEqual((code, "between" in json.loads(text)["error"]), (2, True))
