"""`manage.py practice_room`: the real pages on a made-up shop of their own, for whoever belongs to this one."""

import json
import subprocess
import sys

from django.conf import settings
from django.core.management.base import BaseCommand

from frimble.training import practice


class Command(BaseCommand):
    help = "Serve a practice room beside the shop: its people sign in as here, its records never meet the shop's."

    def add_arguments(self, parser):
        parser.add_argument("--port", type=int, default=8001)
        parser.add_argument(
            "--take-people", action="store_true", help="from standard input; the room itself asks for it"
        )

    def handle(self, *args, port, take_people, **options):
        if take_people:
            practice.take_people(json.load(sys.stdin))
            return
        practice.folder().mkdir(mode=0o700, parents=True, exist_ok=True)
        self._run("migrate", "--verbosity", "0")
        self._run("load_scenario")
        self._run("practice_room", "--take-people", said=json.dumps(practice.people()))
        self.stdout.write("The practice room: sign in as here. Nothing recorded there meets the shop's records.")
        self.stdout.flush()
        practice.say_it_runs(port)
        self._run("serve", "--port", str(port), quiet=False)

    def _run(self, *arguments: str, said: str | None = None, quiet: bool = True) -> None:
        subprocess.run(  # noqa: S603 - our own command
            [sys.executable, str(settings.BASE_DIR / "manage.py"), *arguments],
            env=practice.environment(),
            input=said,
            text=True,
            check=True,
            stdout=subprocess.DEVNULL if quiet else None,
        )
