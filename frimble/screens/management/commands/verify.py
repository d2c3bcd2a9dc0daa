"""`manage.py verify`: recompute every screen's state from its records and report differences."""

from django.core.management.base import BaseCommand

from frimble.screens.ledger import differences
from frimble.screens.models import Screen


class Command(BaseCommand):
    help = "Recompute every screen's state from its records; report differences and exit 1 if there are any."

    def handle(self, *args, **options):
        lines = [line for screen in Screen.objects.for_lists() for line in differences(screen)]
        for line in lines:
            self.stdout.write(line)
        self.stdout.write(f"{Screen.objects.count()} screens checked, {len(lines)} differences.")
        if lines:
            raise SystemExit(1)
