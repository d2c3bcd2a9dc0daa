"""Four taps from the press: kept, answered, and counted on the mesh's card."""

import io

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import override_settings
from PIL import Image

from frimble.press.models import PressFeedback
from frimble.press.tests.printed import PrintedCase
from frimble.screens.models import Screen
from frimble.testing.case import own_data_folder

PAGE = "/press/Q-014/print/"


class FeedbackTests(PrintedCase):
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

    def test_what_covers_is_learned_and_told_in_planner_chooser_and_on_the_mesh(self):
        for _ in range(6):
            self.tell(opacity="opaque", passes="1")
        mesh = Screen.objects.for_lists().get(frame__code="Q-014").mesh
        for address in (
            f"/screens/mesh/{mesh.pk}/",
            "/screens/mesh/choose/?finest_um=300&school=opacity&owned=owned",
            f"/coat/planner/?formula=P1+S1&mesh={mesh.pk}",
        ):
            with self.subTest(address=address):
                page = self.client.get(address)
                self.assertContains(page, "An opaque print wants about")
                self.assertContains(page, "Rests on 1 print here")
