"""`manage.py load_scenario`: the made-up shop, once; a second time changes nothing."""

from django.core.management.base import BaseCommand, CommandError
from django.utils import timezone

from frimble.core.conclusions import RuleViolation
from frimble.demo import loader
from frimble.demo.day import begin_day
from frimble.demo.scenario import PEOPLE


class Command(BaseCommand):
    help = "Load the made-up shop into an empty database; does nothing when it is there."

    def handle(self, *args, **options):
        if loader.loaded():
            self.stdout.write("The made-up shop is loaded already; nothing changed.")
        else:
            try:
                loader.load(timezone.now())
                begin_day()
            except RuleViolation as refusal:
                raise CommandError(refusal.reason) from None
            self.stdout.write("The made-up shop is loaded.")
        self.stdout.write("Demo sign-ins (name / password):")
        for username, name, role in PEOPLE:
            self.stdout.write(f"  {username:10} {loader.password_of(username):20} {name}, {role}")
