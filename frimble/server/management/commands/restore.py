"""`manage.py restore FOLDER`: put a backup back, with what stood there before put aside."""

from pathlib import Path

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError
from django.db import connections
from django.utils import timezone

from frimble.core.conclusions import InvalidInput
from frimble.server.backup import restore


class Command(BaseCommand):
    help = "Put a backup back. Stop the server first; the present state is kept aside."

    def add_arguments(self, parser):
        parser.add_argument("folder", type=Path)

    def handle(self, *args, folder, **options):
        connections.close_all()
        aside = settings.VAR_DIR / "backups" / f"{timezone.localtime():%Y-%m-%d-%H%M%S}-before-restore"
        try:
            counts = restore(folder, Path(settings.DATABASES["default"]["NAME"]), Path(settings.MEDIA_ROOT), aside)
        except InvalidInput as error:
            raise CommandError(str(error)) from None
        self.stdout.write(f"{counts.records} records restored from {folder}. Before it: {aside}.")
