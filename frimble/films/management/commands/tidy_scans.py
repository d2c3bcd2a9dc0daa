"""Takes up checks that a killed worker left, and clears unpacked scans that nobody looks at any more."""

from django.core.management.base import BaseCommand

from frimble.films import checking, scanpictures

_UNUSED_DAYS = 30


class Command(BaseCommand):
    help = "Before a worker starts: queue unfinished checks again and clear what can be made anew."

    def handle(self, *args, **options):
        taken, cleared = checking.take_up_left(), scanpictures.clear_unpacked(_UNUSED_DAYS)
        self.stdout.write(f"{taken} checks taken up, {cleared} unpacked scans cleared.")
