"""Thermal film in its own words and steps, and what the hand does, open for those who learn."""

from frimble.core import practice
from frimble.screens.models import MeshType, Screen, ScreenEvent
from frimble.screens.register.services import register_screen
from frimble.testing.case import PageCase
from frimble.testing.records import record
from frimble.testing.shop import small_shop


class ThermalTests(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.tamsin = self.people["tamsin"]
        mesh = MeshType.objects.get(thermal=True)
        register_screen("T-001", "aluminium", 400, 500, mesh, "", self.tamsin)
        self.client.force_login(self.tamsin)

    def burn(self, **typed):
        sent = {"revision": Screen.objects.get(frame__code="T-001").revision} | typed
        return self.client.post("/screens/T-001/do/image/", sent)

    def test_ruling_and_head_of_the_image_are_kept(self):
        self.burn(ruling_lpi="85", head_dpi="600 × 1200")
        event = ScreenEvent.objects.get(kind="image")
        self.assertEqual(event.facts, {"ruling_lpi": 85.0, "head_dpi": "600 × 1200"})
        self.assertIn("85 lines/in, head 600 × 1200 dpi", event.summary)

    def test_a_ruling_no_halftone_has_is_refused_and_kept(self):
        page = self.burn(ruling_lpi="4000")
        self.assertContains(page, 'value="4000"', status_code=422)
        self.assertFalse(ScreenEvent.objects.filter(kind="image").exists())

    def test_nothing_is_washed_read_off_a_strip_or_reclaimed(self):
        self.burn()
        page = self.client.get("/screens/T-001/")
        self.assertContains(page, "image burned, to inspect")
        self.assertNotContains(page, "washed out")
        inspect = self.client.get("/stencil/T-001/inspect/")
        self.assertContains(inspect, "cut it out and burn another")
        self.assertNotContains(inspect, "Control strip")
        self.assertNotContains(inspect, "reclaim and remake")

    def test_after_press_it_is_cut_out_and_new_mesh_is_mounted(self):
        self.burn()
        for kind in ("inspect", "to_press", "from_press"):
            record("T-001", kind, self.tamsin, summary=kind)
        page = self.client.get("/screens/T-001/")
        self.assertContains(page, "back from press, to cut out")
        self.assertNotContains(page, "Keep or reclaim")
        revision = Screen.objects.get(frame__code="T-001").revision
        answer = self.client.post("/screens/T-001/do/cut_out/", {"revision": revision})
        self.assertRedirects(answer, "/screens/T-001/mount/")


class HandsTests(PageCase):
    def setUp(self):
        self.people = small_shop()

    def page(self, who):
        self.client.force_login(self.people[who])
        return self.client.get("/screens/Q-014/do/degrease/")

    def test_it_stands_folded_for_the_practised_and_open_for_who_learns(self):
        page = self.page("tamsin")
        self.assertContains(page, "How the hand does it")
        self.assertContains(page, "The frame is scrubbed before the mesh")
        self.assertNotContains(page, '<details class="mt-3" open>', html=False)
        self.people["tamsin"].role = "trainee"
        self.people["tamsin"].save()
        self.assertContains(self.page("tamsin"), "open>")

    def test_each_step_of_the_hand_has_its_words(self):
        # Common practice, no source. An inch up, wait for contact, two hands, even speed, roll back, shear.
        coat = " ".join(practice.hands("coat"))
        for word in ("an inch up", "wait for it", "Two hands", "one speed", "roll the coater back", "shear"):
            self.assertIn(word, coat)
        self.assertIn("Turn the washer off", " ".join(practice.hands("reclaim")))
        self.assertEqual(practice.hands("to_press"), ())
