"""Write the shop's own step-test film to files."""

from pathlib import Path

from django.core.management.base import BaseCommand, CommandError

from frimble.people import settings as house_settings


class Command(BaseCommand):
    help = "Write the step-test film as PDF and SVG at true scale, PNG, and the JSON geometry a reading needs."

    def add_arguments(self, parser):
        parser.add_argument("--steps", type=int, default=9)
        parser.add_argument("--dpi", type=int, default=600, help="of the film printer")
        parser.add_argument("--out", type=Path, required=True, help="folder; made when it is not there")

    def handle(self, *args, **options):
        # Loaded here: the drawing libraries cost a second that no other command should pay.
        from frimble.core.conclusions import InvalidInput
        from frimble.core.exposure.target import geometry, writers

        try:
            film = geometry.design(options["steps"], options["dpi"], house_settings.current_or_defaults())
        except InvalidInput as error:
            raise CommandError(str(error)) from None
        try:
            options["out"].mkdir(parents=True, exist_ok=True)
            for kind, write in writers.WRITERS.items():
                path = options["out"] / f"target.{kind}"
                path.write_bytes(write(film))
                self.stdout.write(str(path))
        except OSError as error:
            raise CommandError(f"{options['out']} cannot be written: {error.strerror}.") from None
