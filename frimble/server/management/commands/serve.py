"""`manage.py serve`: the application behind a production server, on this machine only, with its worker beside it."""

import io

import waitress
from django.core.management import call_command
from django.core.management.base import BaseCommand

from frimble.config.wsgi import application
from frimble.people.first_start import code as first_code
from frimble.server import health
from frimble.server.worker import WatchedWorker


class Command(BaseCommand):
    help = "Serve Frimble at 127.0.0.1."

    def add_arguments(self, parser):
        parser.add_argument("--port", type=int, default=8000)
        parser.add_argument("--scenario", action="store_true", help="migrate and load the made-up shop first")

    def handle(self, *args, port, scenario, **options):
        if scenario:
            # In this process: each command of its own would load everything anew.
            call_command("migrate", verbosity=0)
            call_command("load_scenario", stdout=self.stdout)
        health.worker = WatchedWorker(self._say, lambda: call_command("tidy_scans", stdout=io.StringIO()))
        address = f"http://127.0.0.1:{port}/"
        self._say(f"Frimble is at {address} (Ctrl-C stops it)")
        if first_code.needed():
            self._say(f"Nobody belongs to this room yet. Open {address} and type the code {first_code.make()}")
        try:
            waitress.serve(
                application, host="127.0.0.1", port=port, threads=8, max_request_body_size=2**30, _quiet=True
            )
        finally:
            health.worker.stop()

    def _say(self, words: str) -> None:
        self.stdout.write(words)
        self.stdout.flush()
