import io

from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from frimble.jobs.models import Job, Photo
from frimble.press.models import PressReport
from frimble.testing.case import PageCase
from frimble.testing.records import record
from frimble.testing.shop import small_shop


class PressTests(PageCase):
    def setUp(self):
        self.people = small_shop()
        for kind in ("image", "inspect"):
            record("Q-063", kind, self.people["tamsin"], summary=kind)
        self.as_("ines")

    def as_(self, name):
        self.client.force_login(self.people[name], backend="django.contrib.auth.backends.ModelBackend")

    def test_the_press_sends_and_returns_a_screen_with_its_impressions(self):
        self.assertRedirects(
            self.client.post("/press/Q-063/out/", {"job": "", "revision": 2, "went_on": "sample"}), "/screens/Q-063/"
        )
        for value in ("-1", "many", "1e9", ""):
            with self.subTest(value):
                response = self.client.post("/press/Q-063/back/", {"impressions": value, "revision": 3})
                self.assertEqual(response.status_code, 422)
        self.client.post("/press/Q-063/back/", {"impressions": "240", "revision": 3})
        self.assertEqual(PressReport.objects.get().impressions, 240)

    def test_a_thermal_mesh_is_offered_its_cutting_out_not_a_reclaim(self):
        self.client.post("/press/Q-063/out/", {"revision": 2, "went_on": "sample"})
        self.client.post("/press/Q-063/back/", {"impressions": "80", "revision": 3})
        page = self.client.get("/screens/Q-063/")
        self.assertContains(page, "Cut out the mesh")
        self.assertNotContains(page, "Reclaim</")

    def photograph(self, data, **typed):
        sent = SimpleUploadedFile("../../etc/any.jpg", data, "image/jpeg")
        return self.client.post("/jobs/J-301/", {"picture": sent, "shows": "stencil", "words": "edges clean"} | typed)

    def test_a_design_keeps_its_photographs_over_its_jobs(self):
        file = io.BytesIO()
        Image.new("RGB", (3000, 2000), (40, 90, 200)).save(file, "PNG")
        self.assertRedirects(self.photograph(file.getvalue()), "/jobs/J-301/")
        photo = Photo.objects.get()
        self.assertNotIn("any", photo.picture.name)
        with photo.picture.open() as kept:
            self.assertEqual(Image.open(kept).size, (1600, 1067))
        Job.objects.create(number="J-401", name="lugger week PENNANTS")
        page = self.client.get("/jobs/J-401/")
        self.assertContains(page, "edges clean")
        self.assertContains(page, "J-301")
        amber = Image.open(io.BytesIO(self.client.get(f"/photos/{photo.pk}.png?dark=1").content))
        self.assertEqual(amber.getextrema()[2], (0, 0))

    def test_what_is_no_photograph_is_not_kept(self):
        for data in (b"words", b"\xff\xd8\xff cut short", b""):
            answer = self.photograph(data)
            self.assertContains(answer, "edges clean", status_code=422)
        self.assertFalse(Photo.objects.exists())

    def test_the_slate_leads_to_screens_slots_meshes_and_jobs(self):
        for text, target in (
            ("q-014", "/screens/Q-014/"),
            ("A-02", "/screens/rack/?slot=A-02#slot-A-02"),
            ("j-301", "/jobs/J-301/"),
            ("", "/"),
        ):
            with self.subTest(text):
                self.assertEqual(self.client.get("/find/", {"q": text}).url, target)
        self.assertContains(self.client.get("/find/", {"q": "77-48 Y"}, follow=True), "Mesh 77-48 yellow")

    def test_an_empty_shop_offers_the_first_action(self):
        from frimble.screens.models import Screen

        Screen.objects.all().delete()
        self.assertContains(self.client.get("/"), "Register screens")
