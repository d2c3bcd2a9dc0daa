"""`manage.py upgrade`: back up, bring the tables up to this version, and look whether every screen's state still follows."""

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.utils import timezone

from frimble.core.conclusions import RuleViolation
from frimble.server import lock
from frimble.server.backups import timer


class Command(BaseCommand):
    help = "Back up, migrate, verify. The server must be stopped."

    def handle(self, *args, **options):
        folder = settings.VAR_DIR / "backups" / f"{timezone.localtime():%Y-%m-%d-%H%M%S}-before-upgrade"
        try:
            with lock.held(settings.VAR_DIR):
                if timer.is_possible():
                    call_command("backup", str(folder), stdout=self.stdout)
                call_command("migrate", verbosity=0)
                call_command("verify", stdout=self.stdout)
        except RuleViolation as refusal:
            raise CommandError(refusal.reason) from None
        self.stdout.write(f"Upgraded. Before it: {folder}.")
