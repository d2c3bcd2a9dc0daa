"""What the register tells about due work, marks, off-contact, pages that are long, and commands beside the pages."""

import io
from datetime import timedelta

from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from django.utils import timezone
from PIL import Image

from frimble.core.lifecycle import State
from frimble.screens.models import Blemish, MeshType, Screen
from frimble.screens.register import services as register_services
from frimble.testing.case import PageCase
from frimble.testing.records import record
from frimble.testing.shop import small_shop


class DueTests(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.client.force_login(self.people["tamsin"])
        self.now = timezone.now()

    def codes(self, query):
        return [s.code for s in self.client.get(f"/screens/?{query}").context["page"]]

    def test_tension_is_due_by_days_and_never_without_a_mesh(self):
        Screen.objects.update(tension_at=self.now - timedelta(days=2), tension_n_per_cm=24)
        self.assertEqual(self.codes("due=tension"), [])
        Screen.objects.filter(frame__code="Q-014").update(tension_at=self.now - timedelta(days=45))
        Screen.objects.filter(frame__code="Q-015").update(tension_at=None)
        self.assertEqual(self.codes("due=tension"), ["Q-014", "Q-015"])
        Screen.objects.filter(frame__code="Q-015").update(state=State.NO_MESH)
        self.assertEqual(self.codes("due=tension"), ["Q-014"])

    def test_tension_is_due_after_so_many_cycles_too(self):
        # Common practice, no source. Use tells more than days: a check after some cycles.
        installation = Screen.objects.get(frame__code="Q-014").installation
        Screen.objects.filter(frame__code="Q-014").update(tension_at=self.now - timedelta(days=10), tension_n_per_cm=24)
        for number in range(1, 6):
            installation.cycles.create(number=number, started_at=self.now - timedelta(days=9), closed_at=self.now)
        self.assertContains(self.client.get("/screens/Q-014/"), "5 cycles since it was measured: measure again")

    def test_old_coats_and_what_waits_for_a_reclaim(self):
        Screen.objects.filter(frame__code="Q-014").update(state=State.COATED, coated_at=self.now - timedelta(days=40))
        Screen.objects.filter(frame__code="Q-015").update(state=State.COATED, coated_at=self.now - timedelta(days=4))
        Screen.objects.filter(frame__code="Q-016").update(state=State.STRIPPED)
        # From memory: coated screens keep some four weeks in the dark.
        self.assertEqual(self.codes("due=old_coat"), ["Q-014"])
        self.assertEqual(self.codes("due=reclaim"), ["Q-016"])
        page = self.client.get("/screens/rack/")
        self.assertEqual([s.code for s in page.context["coated"]], ["Q-014", "Q-015"])


class PassportTests(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.client.force_login(self.people["tamsin"])

    def test_off_contact_and_its_stretch(self):
        Screen.objects.filter(frame__code="Q-014").update(tension_n_per_cm=24, tension_at=timezone.now())
        # Source: geometry; 580 less two sides of 40 mm leaves 500; half of it is 250 mm, over 2 mm it grows by 0.008 mm.
        self.assertContains(
            self.client.get("/screens/Q-014/"), "begin with 2.0 mm; the image of 250 mm grows by 0.008 mm"
        )

    def test_a_long_life_shows_its_newest_cycles_first(self):
        screen = Screen.objects.get(frame__code="Q-014")
        for number in range(1, 11):
            at = timezone.now() - timedelta(days=20 - number)
            cycle = screen.installation.cycles.create(number=number, started_at=at, closed_at=at)
            screen.installation.events.create(
                cycle=cycle,
                kind="reclaim",
                at=at,
                by=self.people["tamsin"],
                summary=f"Reclaim number {number}.",
                facts={"rounds": 2, "minutes": 6.5},
            )
        page = self.client.get("/screens/Q-014/")
        self.assertContains(page, "Reclaim number 10.")
        self.assertNotContains(page, "Reclaim number 1.")
        self.assertContains(page, "65 min<small>20 rounds")
        self.assertContains(self.client.get("/screens/Q-014/?all=1"), "Reclaim number 1.")

    def test_meshes_it_carried(self):
        kind = MeshType.objects.create(count_per_cm=43, thread_um=80, colour="white")
        register_services.take_off("Q-014", self.people["tamsin"], ending="haze")
        register_services.mount("Q-014", self.people["tamsin"], mesh=kind, angle_deg=22.5)
        page = self.client.get("/screens/Q-014/")
        self.assertContains(page, "Meshes it carried")
        self.assertContains(page, "77-48 yellow")
        self.assertContains(page, "22.5°")

    def test_an_empty_frame_is_not_measured_racked_wet_or_coated(self):
        register_services.take_off("Q-014", self.people["tamsin"], ending="torn")
        register_services.send_away("Q-014", self.people["tamsin"])
        self.assertContains(self.client.get("/screens/Q-014/tension/"), "There is no mesh on this frame")
        self.assertContains(self.client.get("/screens/Q-014/place/"), "It is out for new mesh")
        self.assertContains(self.client.get("/coat/Q-014/"), "degrease and dry the mesh first")


class MarkPhotoTests(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.client.force_login(self.people["tamsin"])

    def send(self, data):
        given = {"kind": "haze", "x_mm": "100", "y_mm": "100", "width_mm": "50", "height_mm": "40"}
        return self.client.post("/screens/Q-014/marks/", given | {"photo": SimpleUploadedFile("m.jpg", data)})

    def test_a_photograph_is_kept_anew_and_amber_in_safelight(self):
        file = io.BytesIO()
        Image.new("RGB", (400, 300), (30, 60, 220)).save(file, "JPEG", comment=b"where it was taken")
        self.assertEqual(self.send(file.getvalue()).status_code, 302)
        mark = Blemish.objects.get()
        with mark.photo.open() as kept:
            self.assertNotIn(b"where it was taken", kept.read())
        amber = Image.open(io.BytesIO(self.client.get(f"/screens/marks/{mark.pk}.png?dark=1").content))
        self.assertEqual(amber.getextrema()[2], (0, 0))
        with self.assertRaises(TypeError):
            mark.save()

    def test_what_is_no_photograph_is_told_and_no_mark_is_kept(self):
        self.assertContains(self.send(b"words"), "JPEG and PNG are accepted", status_code=422)
        self.assertFalse(Blemish.objects.exists())
        self.assertEqual(self.client.get("/screens/marks/1.png").status_code, 404)


class VerifyTests(PageCase):
    def test_verify_sees_a_state_that_the_records_do_not_bear_out(self):
        people = small_shop()
        record("Q-014", "degrease", people["tamsin"], summary="Degreased")
        answer = io.StringIO()
        call_command("verify", stdout=answer)
        self.assertIn("0 differences", answer.getvalue())
        Screen.objects.filter(frame__code="Q-014").update(state=State.COATED)
        answer = io.StringIO()
        with self.assertRaises(SystemExit):
            call_command("verify", stdout=answer)
        self.assertIn("Q-014: state is stored as", answer.getvalue())
