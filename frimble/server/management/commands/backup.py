"""`manage.py backup`: copy the shop while people work, and check the copy."""

from pathlib import Path

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError
from django.utils import timezone

from frimble.core.conclusions import InvalidInput
from frimble.server.backups import timer
from frimble.server.backups.making import back_up


class Command(BaseCommand):
    help = "Copy database and files into a new folder and check the copy; safe while the server runs."

    def add_arguments(self, parser):
        parser.add_argument("folder", nargs="?", type=Path, help="a new folder; by default one named after the moment")

    def handle(self, *args, folder, **options):
        if not timer.is_possible():
            raise CommandError("This database is no file: copy it with its own tools, such as pg_dump.")
        folder = folder or settings.VAR_DIR / "backups" / f"{timezone.localtime():%Y-%m-%d-%H%M%S}"
        try:
            made = back_up(Path(settings.DATABASES["default"]["NAME"]), Path(settings.MEDIA_ROOT), folder)
        except InvalidInput as error:
            raise CommandError(str(error)) from None
        except OSError as error:
            raise CommandError(f"{error.strerror}: nothing was kept in {folder}.") from None
        self.stdout.write(f"{made.records} records and {len(made.files)} files in {folder}, checked.")
