"""Four taps from the press: kept, answered, and counted on the mesh's card."""

import io
from datetime import timedelta

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import override_settings
from django.utils import timezone
from PIL import Image

from frimble.coatings.coats import services as coat_services
from frimble.coatings.models import Batch
from frimble.core.coating.drying import Air
from frimble.people.moments import happened_at
from frimble.press.models import PressFeedback
from frimble.press.services import send_to_press
from frimble.screens.models import Screen
from frimble.testing.case import PageCase, own_data_folder
from frimble.testing.records import record
from frimble.testing.shop import small_shop

PAGE = "/press/Q-014/print/"


class FeedbackTests(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.tamsin, self.ines = self.people["tamsin"], self.people["ines"]
        self.client.force_login(self.ines)
        then = timezone.now() - timedelta(days=2)
        with happened_at(then):
            record("Q-014", "degrease", self.tamsin, summary="Degreased")
        with happened_at(then + timedelta(hours=1)):
            coat_services.coat("Q-014", self.tamsin, formula="P1 S1", batch=Batch.objects.first(), air=Air(35, 0.4))
        with happened_at(then + timedelta(days=1)):
            for kind in ("expose", "wash", "inspect"):
                record("Q-014", kind, self.tamsin, summary=kind)
        send_to_press("Q-014", self.ines, job=None, went_on="test")

    def tell(self, **typed):
        return self.client.post(PAGE, typed, follow=True)

    def test_four_taps_are_enough(self):
        page = self.tell(opacity="opaque", sharpness="sharp", fit="fits", hold="held")
        self.assertContains(page, "Q-014: opaque, sharp, they meet, it holds.")
        self.assertContains(page, "Nothing: it prints as it should.")
        said = PressFeedback.objects.get()
        self.assertEqual(
            (said.by, said.visit.event.kind, said.words), (self.ines, "to_press", "opaque, sharp, they meet, it holds")
        )

    def test_what_follows_stands_there_with_the_way_to_the_causes(self):
        page = self.tell(hold="broke", fit="off")
        self.assertContains(page, "nobody measured this mesh")
        self.assertContains(page, "/stencil/Q-014/wrong/?symptoms=breaks_down_on_press")

    def test_impressions_are_added_as_they_go_and_never_fewer(self):
        self.tell(impressions="100")
        page = self.tell(impressions="60", note="second box")
        self.assertContains(page, "100 were written down before, by Ines", status_code=422)
        self.assertContains(page, 'value="second box"', status_code=422)
        self.tell(impressions="240", hold="held")
        self.assertContains(self.client.get(PAGE), "240 impressions so far")

    def test_bad_numbers_are_told_beside_their_field(self):
        for typed, words in (
            ({"ink_c": "320", "hold": "held"}, "If it is °F, type 160 °C."),
            ({"impressions": "-4"}, "must be between"),
            ({"passes": "many", "hold": "held"}, "whole number"),
            ({"off_contact_mm": "90", "hold": "held"}, "must be between 0 and 30"),
            ({"note": ""}, "Tap at least one answer"),
        ):
            with self.subTest(typed):
                self.assertContains(self.tell(**typed), words, status_code=422)
        self.assertFalse(PressFeedback.objects.exists())

    def test_the_cure_is_judged_for_the_ink_that_was_named(self):
        page = self.tell(hold="held", ink="plastisol", ink_c="150", ink_s="8", blend="on")
        self.assertContains(page, "Under-cured.")
        page = self.tell(hold="held", ink_c="150", ink_s="8")
        self.assertContains(page, "Say which ink it is")

    def test_a_screen_that_was_not_at_press_has_no_prints(self):
        self.assertContains(self.client.get("/press/Q-015/print/"), "Not on press yet")
        page = self.client.post("/press/Q-015/print/", {"hold": "held"})
        self.assertContains(page, "there is no print to speak of", status_code=422)

    def test_the_mesh_card_counts_the_newest_of_each_run(self):
        self.tell(opacity="thin", passes="1")
        self.tell(opacity="opaque", passes="2")
        mesh = Screen.objects.get(frame__code="Q-014").mesh
        page = self.client.get(f"/screens/mesh/{mesh.pk}/")
        self.assertContains(page, "How it prints")
        self.assertContains(page, "1 of 1")
        self.assertContains(page, '<td class="numeric">2</td>', html=True)

    def test_a_photograph_is_kept_and_no_photograph_is_refused(self):
        file = io.BytesIO()
        Image.new("RGB", (80, 50), "navy").save(file, "JPEG")
        with override_settings(MEDIA_ROOT=own_data_folder(self) / "media"):
            self.tell(hold="held", photo=SimpleUploadedFile("print.jpg", file.getvalue()))
            said = PressFeedback.objects.get()
            self.assertEqual(
                Image.open(io.BytesIO(self.client.get(f"/press/print/{said.pk}.png").content)).size, (80, 50)
            )
            page = self.tell(hold="held", photo=SimpleUploadedFile("print.heic", b"ftypheic"))
            self.assertEqual(page.status_code, 422)

    def test_coming_back_leads_to_the_taps(self):
        sent = {"impressions": "120", "revision": Screen.objects.get(frame__code="Q-014").revision}
        self.assertRedirects(self.client.post("/press/Q-014/back/", sent), PAGE)
        self.assertContains(self.client.get("/screens/Q-014/"), PAGE)
