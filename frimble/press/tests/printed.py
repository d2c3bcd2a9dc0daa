"""A screen that went to press, for tests of what the press says of it."""

from datetime import timedelta

from django.utils import timezone

from frimble.coatings.coats import services as coat_services
from frimble.coatings.models import Batch
from frimble.core.coating.drying import Air
from frimble.people.moments import happened_at
from frimble.press.services import send_to_press
from frimble.testing.case import PageCase
from frimble.testing.records import record
from frimble.testing.shop import small_shop


class PrintedCase(PageCase):
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
