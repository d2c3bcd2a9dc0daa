"""Sending to press: the gate stands on the page, and going past it is kept with who did and why."""

from datetime import timedelta

from django.utils import timezone

from frimble.people.moments import happened_at
from frimble.press.models import PressVisit
from frimble.screens.models import Screen
from frimble.testing.case import PageCase
from frimble.testing.records import record
from frimble.testing.shop import small_shop


class GateTests(PageCase):
    """A stencil that was never calibrated, on a mesh whose tension nobody measured."""

    def setUp(self):
        self.people = small_shop()
        self.tamsin, self.ines = self.people["tamsin"], self.people["ines"]
        self.client.force_login(self.ines)
        with happened_at(timezone.now() - timedelta(days=1)):
            for kind in ("degrease", "coat", "expose", "wash", "inspect"):
                record("Q-014", kind, self.tamsin, facts={"pinholes": 2} if kind == "inspect" else {}, summary=kind)

    def send(self, **typed):
        sent = {"job": "", "revision": Screen.objects.get(frame__code="Q-014").revision} | typed
        return self.client.post("/press/Q-014/out/", sent)

    def test_the_page_names_what_was_skipped_with_its_reason(self):
        page = self.client.get("/press/Q-014/out/")
        self.assertContains(page, "Its time was not calibrated")
        self.assertContains(page, "Never measured on this mesh")
        self.assertContains(page, "By the clock, since its last water.")
        self.assertContains(page, "Goes to press all the same, because")

    def test_without_a_reason_it_stays(self):
        page = self.send()
        self.assertContains(page, "Say why it goes to press all the same.", status_code=422)
        self.assertEqual(Screen.objects.get(frame__code="Q-014").state, "ready")
        self.assertFalse(PressVisit.objects.exists())

    def test_who_went_past_it_and_why_is_kept(self):
        self.assertEqual(self.send(went_on="Sample of ten, on scrap").status_code, 302)
        visit = PressVisit.objects.get()
        self.assertEqual(visit.passed_over, ["time", "tension"])
        self.assertEqual((visit.went_on_because, visit.event.by), ("Sample of ten, on scrap", self.ines))

    def test_a_kept_stencil_is_looked_at_again_before_its_reprint(self):
        # Common practice, no source: filler dissolves in ink remover.
        self.send(went_on="Sample")
        for kind in ("from_press", "strip"):
            record("Q-014", kind, self.tamsin, summary=kind)
        page = self.client.get("/press/Q-014/out/")
        self.assertContains(page, "2 pinholes were blocked before its last print")
        self.assertContains(page, "Nobody looked at it since its ink was washed out")
        record("Q-014", "inspect", self.tamsin, summary="Looked at again")
        page = self.client.get("/press/Q-014/out/")
        self.assertNotContains(page, "Nobody looked at it")
        self.assertNotContains(page, "before its last print")
