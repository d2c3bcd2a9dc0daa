import json
from pathlib import Path

from django.core.management.base import BaseCommand, CommandError

from frimble.core.conclusions import InvalidInput
from frimble.exchange.packages.bad_cells import BadCells
from frimble.exchange.packages.reading import read_package


class Command(BaseCommand):
    help = (
        "Read a data package into this empty shop; each line says how far it is, or, as JSON, which cells do not fit."
    )

    def add_arguments(self, parser):
        parser.add_argument("package", type=Path, help="the zip that Import and export wrote")

    def handle(self, *args, package, **options):
        try:
            with package.open("rb") as file:
                read_package(file, self._tell)
        except OSError as error:
            raise CommandError(f"{package} cannot be read: {error.strerror}.") from None
        except BadCells as refused:
            self.stdout.write(json.dumps(refused.as_json()))
            raise CommandError(str(refused)) from None
        except InvalidInput as refused:
            raise CommandError(str(refused)) from None

    def _tell(self, share: float, doing: str) -> None:
        self.stdout.write(f"{share:.3f} {doing}")
        self.stdout.flush()
