"""Work that was refused."""

from frimble.jobs.models import RefusedWork
from frimble.testing.case import PageCase
from frimble.testing.shop import small_shop


class RefusedTests(PageCase):
    def setUp(self):
        self.client.force_login(small_shop()["ines"])

    def refuse(self, **posted):
        fields = {"words": "Banner", "reason": "oversize", "width_mm": "1.2 m", "height_mm": "900", "money": "340"}
        return self.client.post("/refused/", fields | posted, follow=True)

    def test_it_is_counted_with_its_money_and_its_size(self):
        self.assertContains(self.client.get("/refused/"), "No work was refused in a year")
        self.refuse(width_mm="1200")
        page = self.refuse(words="Flag", width_mm="1000", height_mm="1500", money="")
        self.assertContains(page, "2 pieces of work refused in a year, 340 in money")
        self.assertContains(
            page, "1 has no money noted; a frame for images of 1000 × 1500 mm would take all with a size."
        )

    def test_a_side_alone_or_money_below_nothing_is_refused(self):
        self.assertContains(self.refuse(height_mm=""), "Both sides, or neither", status_code=422)
        page = self.refuse(width_mm="1200", money="-3")
        self.assertContains(page, 'value="Banner"', status_code=422)
        self.assertFalse(RefusedWork.objects.exists())
