"""Supplies: named, recorded, ordered in time."""

import csv
import io
from datetime import timedelta

from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils import timezone

from frimble.jobs.models import Supply, SupplyRecord
from frimble.testing.case import PageCase
from frimble.testing.shop import small_shop


class SuppliesTests(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.client.force_login(self.people["tamsin"])

    def name(self, **more):
        return self.client.post("/supplies/", {"name": "Remover", "unit": "l", "supplier_days": "5"} | more)

    def record(self, kind, amount, days_ago=0, **more):
        supply, at = Supply.objects.get(), timezone.now() - timedelta(days=days_ago)
        SupplyRecord.objects.create(supply=supply, kind=kind, amount=amount, at=at, by=self.people["tamsin"], **more)

    def test_a_supply_is_named_with_its_sheet_and_opened_by_its_code(self):
        self.assertContains(self.client.get("/supplies/"), "No supply is named yet")
        sheet = SimpleUploadedFile("sheet.pdf", b"%PDF-1.4 made up")
        self.name(code="R-77", keep_from="acids", stored_at="low cupboard", safety_sheet=sheet)
        made = Supply.objects.get()
        page = self.client.get("/supplies/", {"code": "r-77"}, follow=True)
        self.assertContains(page, "Must not meet:")
        self.assertContains(page, "Stored: low cupboard")
        filed = self.client.get(f"/supplies/{made.pk}/sheet.pdf")
        self.assertEqual(b"".join(filed.streaming_content), b"%PDF-1.4 made up")
        self.assertContains(self.client.get("/supplies/", {"code": "zz"}), "Nothing carries the code zz")

    def test_what_is_no_pdf_or_named_twice_is_refused(self):
        self.assertContains(
            self.name(safety_sheet=SimpleUploadedFile("s.pdf", b"hello")), "this file is none", status_code=422
        )
        self.name()
        self.assertContains(self.name(name="remover"), "There is remover already", status_code=422)
        self.assertEqual(Supply.objects.count(), 1)

    def test_more_than_is_there_or_past_its_day_is_refused_with_all_kept(self):
        self.name()
        url = f"/supplies/{Supply.objects.get().pk}/"
        page = self.client.post(url, {"kind": "out", "amount": "2", "batch": "B-9"})
        self.assertContains(page, "2 more would be out than was there", status_code=422)
        self.assertContains(page, 'value="B-9"', status_code=422)
        past = (timezone.localdate() - timedelta(days=1)).isoformat()
        page = self.client.post(url, {"kind": "in", "amount": "2", "expires_on": past})
        self.assertContains(page, "do not take it in", status_code=422)
        self.assertFalse(SupplyRecord.objects.exists())
        self.client.post(url, {"kind": "in", "amount": "2.5"})
        self.assertContains(self.client.get(url), "2.5 l")

    def test_what_is_to_be_ordered_comes_first_and_stands_on_the_list(self):
        self.name()
        for week in range(6):
            self.record("counted" if week else "in", 6 - week, days_ago=42 - 7 * week)
        page = self.client.get("/supplies/")
        # Source: by hand: one litre a week, one left: seven days, five to come, order within two.
        self.assertContains(page, "Order within")
        rows = list(csv.reader(io.StringIO(self.client.get("/supplies/list.csv").content.decode())))
        self.assertEqual((rows[0][0], rows[1][0], rows[1][1]), ("supply", "Remover", "1"))
        self.assertTrue(rows[1][3])

    def test_a_batch_that_goes_off_is_told(self):
        self.name()
        self.record("in", 5, expires_on=timezone.localdate() + timedelta(days=10))
        self.assertContains(self.client.get("/supplies/"), "A batch is good until")
