"""Stencil proofs as pages: the visible part at once, the whole film behind the page."""

from datetime import timedelta
from io import BytesIO

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils import timezone
from PIL import Image

from frimble.coatings.models import Emulsion
from frimble.exposures.models import Exposure, Lamp
from frimble.films.checks import services as check_services
from frimble.films.library.services import add_film
from frimble.films.models import DensityReading, FilmProcess, ScanCheck
from frimble.screens.models import Cycle, MeshType, Screen, ScreenEvent
from frimble.stencils.models import StencilPhoto, StencilProof
from frimble.stencils.proofs import services
from frimble.testing.case import PageCase
from frimble.testing.shop import small_shop

_DPI = 600
_PX_MM = _DPI / 25.4


def artwork() -> bytes:
    """A bar of 3 mm, lines of 60 µm apart from it, and a clear hair of 40 µm in a block."""
    sheet = np.full((round(40 * _PX_MM), round(60 * _PX_MM)), 255, np.uint8)

    def bar(x, y, wide, high, shade=0):
        sheet[round(y * _PX_MM) : round((y + high) * _PX_MM), round(x * _PX_MM) : round((x + wide) * _PX_MM)] = shade

    bar(5, 5, 3, 30)
    bar(15, 5, 0.09, 30)
    bar(25, 5, 20, 30)
    bar(35, 5, 0.05, 30, 255)
    file = BytesIO()
    Image.fromarray(sheet).save(file, "PNG", dpi=(_DPI, _DPI))
    return file.getvalue()


class ProofCase(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.client.force_login(self.people["tamsin"])
        self.process = FilmProcess.objects.get()
        film = add_film(
            self.people["tamsin"], name="Bars", job_number="", separation="", process=self.process, kept_at=""
        )
        sent = SimpleUploadedFile("bars.png", artwork())
        self.check = check_services.submit(
            film, self.people["tamsin"], scan=sent, dpi=_DPI, encoding="srgb", wedge="", mesh=None
        )
        check_services.run_check.call(self.check.pk)
        self.check.refresh_from_db()
        self.assertEqual(self.check.state, ScanCheck.State.DONE, self.check.refusal)
        self.asked = {
            "scan": self.check.pk, "mesh": MeshType.objects.get(thermal=False).pk, "formula": "P1 S1",
            "emulsion": Emulsion.objects.first().pk, "lamp": Lamp.objects.exclude(kind=Lamp.SUN).first().pk,
            "film_process": self.process.pk, "time_s": "30",
        }  # fmt: skip

    def measured(self):
        DensityReading.objects.create(
            process=self.process, band="uv", route="meter", dmax=3.2, dmin=0.05,
            at=self.check.at, by=self.people["tamsin"],
        )  # fmt: skip


class ProofPagesTests(ProofCase):
    def test_a_film_older_than_those_that_are_offered_can_be_asked_for(self):
        # Common practice, no source: films of reorders are years old.
        self.measured()
        found = {"state": "done", "result": self.check.result, "scan": self.check.scan, "dpi": _DPI}
        newer = timezone.now() + timedelta(minutes=1)
        ScanCheck.objects.bulk_create(
            ScanCheck(film=self.check.film, at=newer, by=self.people["tamsin"], **found) for _ in range(70)
        )
        page = self.client.get("/stencil/proofs/", self.asked)
        self.assertEqual(page.status_code, 200)
        self.assertEqual(page.context["form"].fields["scan"].records[-1], self.check)
        self.assertEqual(len(page.context["form"].fields["scan"].records), 61)
        self.client.post("/stencil/proofs/", self.asked)
        self.assertEqual(StencilProof.objects.get().scan, self.check)
        for odd in ("0", "x", str(2**70), ""):
            with self.subTest(odd):
                self.assertEqual(self.client.get("/stencil/proofs/", self.asked | {"scan": odd}).status_code, 422)

    def test_without_a_density_it_says_what_is_to_be_measured(self):
        other = FilmProcess.objects.create(name="Never measured")
        page = self.client.get("/stencil/proofs/", self.asked | {"film_process": other.pk})
        self.assertContains(page, "Nobody has measured how black", status_code=422)
        self.assertContains(page, 'value="30"', status_code=422)

    def test_the_visible_part_answers_what_the_sliders_say(self):
        self.measured()
        page = self.client.get("/stencil/proofs/", self.asked)
        self.assertContains(page, "What it rests on")
        self.assertContains(page, "Black 3.20, clear 0.05 in UV.")
        part = self.asked | {"x": 15, "y": 20, "side": 4}
        shares = []
        for time in (1, 30, 3000):
            told = self.client.get("/stencil/proofs/part/", part | {"time_s": time}).json()
            self.assertTrue(told["ok"], told)
            shares.append(float(told["share"].split("%")[0]))
        # Source: longer light closes more; the line of 90 µm is gone at the last.
        self.assertEqual(shares, sorted(shares, reverse=True))
        self.assertEqual(shares[-1], 0.0)
        picture = self.client.get("/stencil/proofs/part.png", part)
        self.assertEqual(Image.open(BytesIO(picture.content)).size, (620, 620))

    def test_a_place_beyond_the_film_is_clear_and_nonsense_is_said(self):
        self.measured()
        told = self.client.get("/stencil/proofs/part/", self.asked | {"x": 900, "y": 5, "side": 4}).json()
        self.assertEqual(told["share"], "No black here.")
        for wrong in ({"x": "here"}, {"side": 4000}, {"time_s": 0}, {"mesh": 99}, {"formula": "Q1"}):
            told = self.client.get("/stencil/proofs/part/", self.asked | {"x": 5, "y": 5, "side": 4} | wrong).json()
            self.assertFalse(told["ok"])
            self.assertTrue(told["reason"])

    def proof(self, **changed):
        self.measured()
        with self.captureOnCommitCallbacks():
            self.client.post("/stencil/proofs/", self.asked | changed)
        return StencilProof.objects.get()

    def test_the_whole_film_is_worked_out_behind_the_page(self):
        proof = self.proof()
        self.assertContains(self.client.get(f"/stencil/proofs/{proof.pk}/"), "Working out the stencil")
        services.work_out.call(proof.pk)
        page = self.client.get(f"/stencil/proofs/{proof.pk}/")
        self.assertContains(page, "not as the film asks")
        kinds = {f["kind"] for f in StencilProof.objects.get().result["findings"]}
        # Source: 90 µm are less than what opens at this time, 50 µm less than an opening of 77-48.
        self.assertLessEqual({"closes", "washes_away"}, kinds)
        self.assertContains(page, "Of the times that cure it through")
        self.assertEqual(self.client.get(f"/stencil/proofs/{proof.pk}/stencil.png").status_code, 200)
        self.assertTrue(self.client.get(f"/stencil/proofs/{proof.pk}/progress/").json()["ended"])
        self.assertContains(self.client.get("/stencil/proofs/"), "Bars on 77-48 yellow, 30 s")

    def test_one_that_broke_off_says_so_and_is_tried_again(self):
        proof = self.proof()
        StencilProof.objects.update(known={"full_s": {}})
        with self.assertLogs("frimble.stencils.proofs.services", "ERROR"):
            services.work_out.call(proof.pk)
        self.assertContains(self.client.get(f"/stencil/proofs/{proof.pk}/"), "It broke off")
        with self.captureOnCommitCallbacks():
            self.client.post(f"/stencil/proofs/{proof.pk}/")
        self.assertEqual(StencilProof.objects.get().state, "waiting")

    def test_one_that_a_killed_worker_left_is_taken_up_three_times_at_most(self):
        proof = self.proof()
        StencilProof.objects.update(state="running", doing="light under the film", tries=1)
        self.assertEqual(services.take_up_left(), 1)
        self.assertContains(self.client.get(f"/stencil/proofs/{proof.pk}/"), "Working out the stencil")
        StencilProof.objects.update(state="running", tries=3)
        self.assertEqual(services.take_up_left(), 0)
        self.assertContains(self.client.get(f"/stencil/proofs/{proof.pk}/"), "It was broken off 3 times")

    def test_an_absurd_time_is_refused_and_what_was_typed_is_kept(self):
        self.measured()
        page = self.client.post("/stencil/proofs/", self.asked | {"time_s": "99999999"})
        self.assertContains(page, 'value="99999999"', status_code=422)
        self.assertFalse(StencilProof.objects.exists())


class TrustTests(ProofCase):
    def test_a_photo_of_the_stencil_says_how_far_the_proof_held(self):
        # Source: by hand: of the places said to close one lies where the photo shows a blocked opening.
        self.measured()
        with self.captureOnCommitCallbacks():
            self.client.post("/stencil/proofs/", self.asked)
        proof = StencilProof.objects.get()
        services.work_out.call(proof.pk)
        proof.refresh_from_db()
        self.assertContains(
            self.client.get("/stencil/proofs/", self.asked), "nobody knows how far it is to be trusted here"
        )
        said = [f for f in proof.result["findings"] if f["kind"] == "closes"]
        self._photo_of(proof, [said[0] | {"kind": "blocked"}])
        page = self.client.get(f"/stencil/proofs/{proof.pk}/")
        self.assertContains(page, f"1 of {len(said)} places said to close")
        self.assertContains(self.client.get("/stencil/proofs/", self.asked), "Held against 1 photo here")

    def _photo_of(self, proof, findings):
        screen = Screen.objects.get(frame__code="Q-014")
        cycle = Cycle.objects.create(installation=screen.installation, number=9, started_at=proof.at)
        rows = {"installation": screen.installation, "by": self.people["tamsin"], "cycle": cycle}
        event = ScreenEvent.objects.create(kind="expose", at=proof.at, summary="Exposed", **rows)
        Exposure.objects.create(
            event=event, lamp=proof.lamp, film_process=proof.film_process, film=proof.scan.film,
            planned_s=proof.time_s, given_s=proof.time_s,
        )  # fmt: skip
        StencilPhoto.objects.create(
            scan=proof.scan,
            want_mm=0.2,
            pinhole_mm=0.2,
            result={"findings": findings},
            state="done",
            at=proof.at,
            **rows,
        )
