"""Takes up checks that a killed worker left, and clears unpacked scans that nobody looks at any more."""

from django.core.management.base import BaseCommand

from frimble.films.checks import pictures as scan_pictures
from frimble.films.checks import services as check_services

_UNUSED_DAYS = 30


class Command(BaseCommand):
    help = "Before a worker starts: queue unfinished checks again and clear what can be made anew."

    def handle(self, *args, **options):
        taken, cleared = check_services.take_up_left(), scan_pictures.clear_unpacked(_UNUSED_DAYS)
        self.stdout.write(f"{taken} checks taken up, {cleared} unpacked scans cleared.")
