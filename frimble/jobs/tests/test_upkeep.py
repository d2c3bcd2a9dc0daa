"""What comes due in the room, and what one shift tells the next."""

from datetime import timedelta

from django.utils import timezone

from frimble.jobs.models import Equipment, Handover, Loan, UpkeepItem, UpkeepRecord
from frimble.screens.steps.services import degrease
from frimble.testing.case import PageCase
from frimble.testing.shop import small_shop


class UpkeepTests(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.client.force_login(self.people["tamsin"])

    def test_what_is_latest_stands_first_and_is_seen_to(self):
        self.assertContains(self.client.get("/upkeep/"), "Nothing comes due yet")
        self.client.post("/upkeep/", {"act": "item", "name": "Extinguisher", "every_days": "365"})
        self.client.post("/upkeep/", {"act": "item", "name": "Gauge", "every_days": "30"})
        gauge = UpkeepItem.objects.get(name="Gauge")
        UpkeepRecord.objects.create(item=gauge, at=timezone.now() - timedelta(days=40), by=self.people["odile"])
        page = self.client.get("/upkeep/")
        # Source: by hand: 40 days after a 30-day round.
        self.assertContains(page, "10 days late.")
        self.assertEqual(page.context["first"].item, gauge)
        self.client.post("/upkeep/", {"act": "done", "item": gauge.pk})
        self.assertContains(self.client.get("/upkeep/"), "In 30 days.")

    def test_a_name_twice_or_never_is_refused(self):
        self.client.post("/upkeep/", {"act": "item", "name": "Filter", "every_days": "90"})
        page = self.client.post("/upkeep/", {"act": "item", "name": "filter", "every_days": "90"})
        self.assertContains(page, "There is filter already", status_code=422)
        page = self.client.post("/upkeep/", {"act": "item", "name": "Lamp", "every_days": "0"})
        self.assertContains(page, 'value="Lamp"', status_code=422)
        self.assertEqual(UpkeepItem.objects.count(), 1)

    def test_what_is_lent_comes_back_and_stands_in_the_handover(self):
        past = {"act": "loan", "what": "Gauge", "to": "the sail loft", "back_by": "2026-01-01"}
        page = self.client.post("/upkeep/", past)
        self.assertContains(page, "1 Jan 2026 is past", status_code=422)
        self.assertContains(page, 'value="the sail loft"', status_code=422)
        soon = (timezone.localdate() + timedelta(days=2)).isoformat()
        self.client.post("/upkeep/", past | {"back_by": soon})
        self.assertContains(self.client.get("/upkeep/"), "Gauge is back")
        self.client.post("/handover/", {"words": ""})
        self.assertTrue(Handover.objects.get().room[0].startswith("Lent: Gauge, lent to the sail loft, wanted back by"))
        loan = Loan.objects.get()
        for _ in range(2):
            self.client.post("/upkeep/", {"act": "back", "loan": loan.pk})
        self.assertEqual(loan.back.by, self.people["tamsin"])
        self.assertContains(self.client.get("/upkeep/"), "Nothing is lent.")

    def test_lamps_stand_there_by_their_hours(self):
        self.assertContains(self.client.get("/upkeep/"), "Lamps by their hours")
        self.assertContains(self.client.get("/upkeep/"), "Read its hours: without them")

    def test_circuits_are_noted_and_nothing_is_advised(self):
        self.client.post("/upkeep/", {"act": "equipment", "name": "Dryer", "circuit": "3", "rating": "3.2 kW, 230 V"})
        page = self.client.get("/upkeep/")
        self.assertContains(page, "Not asked of an electrician yet")
        self.assertContains(page, "licensed electrician")
        told = {"act": "equipment", "name": "Dryer", "circuit": "3", "together": "nothing else"}
        self.client.post("/upkeep/", told)
        self.assertEqual(Equipment.objects.get().together, "nothing else")


class HandoverTests(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.client.force_login(self.people["tamsin"])

    def test_what_is_wet_is_written_down_by_itself_and_the_next_one_signs(self):
        degrease("Q-014", self.people["tamsin"], dwell_s=60)
        self.client.post("/handover/", {"words": "Lamp flickers"})
        handed = Handover.objects.get()
        self.assertIn("Q-014", handed.room[0])
        self.assertIn("Wet", handed.room[0])
        self.assertNotContains(self.client.get("/handover/"), "I have read it")
        self.client.post("/handover/", {"act": "sign", "handover": handed.pk})
        self.assertFalse(handed.signatures.exists())
        self.client.force_login(self.people["bertrand"])
        self.assertContains(self.client.get("/handover/"), "Lamp flickers")
        for _ in range(2):
            self.client.post("/handover/", {"act": "sign", "handover": handed.pk})
        self.assertEqual([s.by for s in handed.signatures.all()], [self.people["bertrand"]])
