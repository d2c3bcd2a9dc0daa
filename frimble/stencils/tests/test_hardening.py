"""Hardening is written down, asked about when it may be for good, and told later."""

from datetime import timedelta

from django.utils import timezone

from frimble.people.moments import happened_at
from frimble.screens.models import Screen, ScreenEvent
from frimble.testing.case import PageCase
from frimble.testing.records import record
from frimble.testing.shop import small_shop


class HardeningTests(PageCase):
    def setUp(self):
        self.tamsin = small_shop()["tamsin"]
        self.client.force_login(self.tamsin)
        with happened_at(timezone.now() - timedelta(days=1)):
            for kind in ("degrease", "coat", "expose", "wash", "inspect"):
                record("Q-014", kind, self.tamsin, summary=kind)

    def send(self, code="Q-014", **typed):
        sent = {"revision": Screen.objects.get(frame__code=code).revision} | typed
        return self.client.post(f"/stencil/{code}/harden/", sent)

    def test_the_page_asks_for_the_run_and_answers(self):
        self.assertContains(self.client.get("/stencil/Q-014/harden/"), "Say how many prints are planned")
        page = self.client.get("/stencil/Q-014/harden/?impressions=4000&ink=solvent")
        self.assertContains(page, "4000 prints are a long run")
        self.assertContains(page, "Chemical hardeners burn skin and eyes")

    def test_light_is_written_down_with_its_time(self):
        self.assertRedirects(self.send(how="light", seconds="40"), "/screens/Q-014/")
        self.assertEqual(ScreenEvent.objects.get(kind="harden").facts, {"how": "light", "seconds": 40.0})
        self.assertContains(self.client.get("/screens/Q-014/"), "Hardened by light, once more, 40 s")
        self.assertContains(self.client.get("/stencil/Q-014/harden/"), "Hardened by light")

    def test_a_chemical_is_asked_about_and_told_at_the_reclaim(self):
        self.assertContains(self.send(how="chemical"), "may never come off this mesh", status_code=422)
        self.assertFalse(ScreenEvent.objects.filter(kind="harden").exists())
        self.send(how="chemical", for_good="on")
        for kind in ("to_press", "from_press", "strip"):
            record("Q-014", kind, self.tamsin, summary=kind)
        self.assertContains(self.client.get("/screens/Q-014/do/reclaim/"), "A chemical hardener is on record")

    def test_what_cannot_be_is_refused(self):
        self.assertContains(self.send(how="light"), "Type how long it had light", status_code=422)
        self.assertContains(self.send(how="light", seconds="-5"), "must be between", status_code=422)
        self.assertContains(
            self.send("Q-015", how="light", seconds="5"), "Only a stencil that was inspected", status_code=422
        )
        record("Q-014", "dry_check", self.tamsin, summary="damp", facts={
            "verdict": "damp", "wet_until": (timezone.now() + timedelta(hours=1)).isoformat()})  # fmt: skip
        self.assertContains(self.send(how="light", seconds="40"), "still held as wet", status_code=422)
