"""`manage.py serve`: the application behind a production server, on this machine only."""

import waitress
from django.core.management.base import BaseCommand

from frimble.config.wsgi import application


class Command(BaseCommand):
    help = "Serve Frimble at 127.0.0.1."

    def add_arguments(self, parser):
        parser.add_argument("--port", type=int, default=8000)

    def handle(self, *args, port, **options):
        self.stdout.write(f"Frimble is at http://127.0.0.1:{port}/ (Ctrl-C stops it)")
        self.stdout.flush()
        waitress.serve(application, host="127.0.0.1", port=port, threads=8, _quiet=True)
