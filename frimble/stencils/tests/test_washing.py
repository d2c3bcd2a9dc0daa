"""Washing out: the latent image, what is usual here, and what a wash says that was not."""

import io
from datetime import timedelta

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import override_settings
from django.utils import timezone
from PIL import Image

from frimble.coatings.coats import services as coat_services
from frimble.coatings.models import Batch
from frimble.core.coating.drying import Air
from frimble.people import settings as house_settings
from frimble.people.moments import happened_at
from frimble.screens.models import Screen
from frimble.stencils.models import Washout
from frimble.stencils.washing import learning
from frimble.testing.case import PageCase, own_data_folder
from frimble.testing.records import record
from frimble.testing.shop import small_shop


def photo(kind="PNG", name="latent.png"):
    file = io.BytesIO()
    Image.new("RGB", (60, 40), "green").save(file, kind)
    return SimpleUploadedFile(name, file.getvalue())


class WashingCase(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.tamsin = self.people["tamsin"]
        self.client.force_login(self.tamsin)
        self.then = timezone.now() - timedelta(days=3)

    def exposed(self, code, is_test=False):
        """A screen coated and exposed three days ago."""
        with happened_at(self.then):
            record(code, "degrease", self.tamsin, summary="Degreased")
        with happened_at(self.then + timedelta(hours=1)):
            coat_services.coat(code, self.tamsin, formula="P1 S1", batch=Batch.objects.first(), air=Air(35, 0.4))
        with happened_at(self.then + timedelta(days=1)):
            record(code, "expose", self.tamsin, facts={"is_test": is_test}, summary="Exposed")

    def send(self, code, **typed):
        sent = {"soak_s": "40", "rinse_s": "90", "revision": Screen.objects.get(frame__code=code).revision} | typed
        return self.client.post(f"/stencil/{code}/wash/", sent, follow=True)


class WashTests(WashingCase):
    def setUp(self):
        super().setUp()
        self.exposed("Q-014")

    def test_the_page_shows_image_protocol_and_what_is_usual(self):
        page = self.client.get("/stencil/Q-014/wash/")
        # Source: trade, common practice: print side, 75 mm above to 75 mm below, lukewarm; bubbles mean stop.
        for words in (
            "do you see the image",
            "75 mm above the image to 75 mm below it",
            "bubbles means stop",
            "narrowed hose",
        ):
            self.assertContains(page, words)
        self.assertContains(page, "Such stencils rinse open in about 90 s")
        self.assertContains(page, "Rests on common practice.")
        self.assertContains(page, "No nails or brushes on edges")

    def test_how_it_was_washed_is_kept(self):
        page = self.send("Q-014", side="print", pressure="low", water_c="22", latent="clear")
        self.assertContains(page, "Washed out: soak 40 s, rinse 90 s")
        kept = Washout.objects.get()
        self.assertEqual((kept.side, kept.pressure, kept.water_c, kept.latent), ("print", "low", 22.0, "clear"))

    def test_a_rinse_far_from_the_usual_says_why_and_what_to_do(self):
        self.assertContains(self.send("Q-014", rinse_s="12 min"), "Longer than usual: 12 min")
        self.exposed("Q-015")
        page = self.send("Q-015", rinse_s="5")
        self.assertContains(page, "Shorter than usual: 5 s")
        self.assertContains(page, "Under-exposed, or still damp inside")

    def test_a_usual_one_says_nothing_more(self):
        page = self.send("Q-014")
        self.assertNotContains(page, "than usual")

    def test_water_in_fahrenheit_is_asked_and_what_was_typed_stays(self):
        page = self.send("Q-014", water_c="104", note="warm day")
        self.assertContains(page, "If 104 is °F, type 40 °C.", status_code=422)
        self.assertContains(page, 'value="warm day"', status_code=422)
        self.assertContains(self.send("Q-014", water_c="-5"), "0 to 60 °C", status_code=422)
        self.assertFalse(Washout.objects.exists())

    def test_negative_and_missing_seconds_are_refused(self):
        self.assertContains(self.send("Q-014", soak_s="-4"), "must be between", status_code=422)
        self.assertEqual(self.send("Q-014", rinse_s="").status_code, 422)
        self.assertFalse(Washout.objects.exists())

    def test_a_photograph_of_the_latent_image_is_kept_in_both_lights(self):
        with override_settings(MEDIA_ROOT=own_data_folder(self) / "media"):
            self.send("Q-014", latent="faint", latent_photo=photo())
            kept = Washout.objects.get()
            for dark in (0, 1):
                answer = self.client.get(f"/stencil/latent/{kept.pk}.png?dark={dark}")
                self.assertEqual(Image.open(io.BytesIO(answer.content)).size, (60, 40))
            page = self.client.get("/stencil/Q-014/inspect/")
            self.assertContains(page, "Image before the wash: faint.")
            self.assertContains(page, f"/stencil/latent/{kept.pk}.png")

    def test_what_is_no_photograph_is_refused(self):
        page = self.send("Q-014", latent_photo=SimpleUploadedFile("latent.pdf", b"%PDF-1.7"))
        self.assertEqual(page.status_code, 422)
        self.assertFalse(Washout.objects.exists())


class LearningTests(WashingCase):
    def rinsed(self, code, seconds, passed=True, is_test=False):
        self.exposed(code, is_test)
        self.send(code, rinse_s=str(seconds))
        if not is_test:
            record(code, "inspect", self.tamsin, facts={"passed": passed}, summary="Inspected")

    def model(self):
        return learning.model(house_settings.current())

    def test_only_stencils_that_came_out_well_teach(self):
        self.rinsed("Q-014", 150)
        self.assertEqual(self.model().belief.records, 1)
        self.rinsed("Q-015", 1500, passed=False)
        self.assertEqual(self.model().belief.records, 1)
        self.rinsed("Q-016", 200, is_test=True)
        self.assertEqual(self.model().belief.records, 1)

    def test_what_was_learned_stands_on_the_next_page(self):
        self.rinsed("Q-014", 200)
        self.exposed("Q-015")
        page = self.client.get("/stencil/Q-015/wash/")
        self.assertContains(page, "Rests on 1 wash here, ")
