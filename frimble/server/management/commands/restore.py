"""`manage.py restore FOLDER`: put a backup back, with what stood there before put aside."""

from pathlib import Path

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import connections
from django.db.migrations.loader import MigrationLoader
from django.utils import timezone

from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.server import lock
from frimble.server.backups import timer
from frimble.server.backups.restoring import restore


class Command(BaseCommand):
    help = "Put a backup back. All of it is looked through first; the server must be stopped; what was there is kept."

    def add_arguments(self, parser):
        parser.add_argument("folder", type=Path)
        parser.add_argument(
            "--older", action="store_true", help="also one of an older version; its tables are upgraded"
        )

    def handle(self, *args, folder, older, **options):
        if not timer.is_possible():
            raise CommandError("This database is no file: put it back with its own tools, such as pg_restore.")
        known = {".".join(name) for name in MigrationLoader(None, ignore_no_migrations=True).disk_migrations}
        connections.close_all()
        aside = settings.VAR_DIR / "backups" / f"{timezone.localtime():%Y-%m-%d-%H%M%S}-before-restore"
        database, media = Path(settings.DATABASES["default"]["NAME"]), Path(settings.MEDIA_ROOT)
        try:
            with lock.held(settings.VAR_DIR):
                manifest, lacking = restore(folder.resolve(), database, media, aside, known, older)
                if lacking:
                    call_command("migrate", verbosity=0)
        except InvalidInput as error:
            raise CommandError(f"{error} Nothing was changed.") from None
        except RuleViolation as refusal:
            raise CommandError(refusal.reason) from None
        except OSError as error:
            raise CommandError(f"{error.strerror}. What was there before: {aside}.") from None
        self.stdout.write(f"{manifest.records} records restored from {folder}. Before it: {aside}.")
