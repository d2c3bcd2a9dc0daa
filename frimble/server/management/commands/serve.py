"""`manage.py serve`: the application behind a production server, on this machine only, with its worker beside it."""

import ctypes
import io
import os
import signal
import subprocess
import sys

import waitress
from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand

from frimble.config.wsgi import application

# From linux/prctl.h.
_PR_SET_PDEATHSIG = 1


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
        call_command("tidy_scans", stdout=io.StringIO())
        worker = _start_worker()
        self.stdout.write(f"Frimble is at http://127.0.0.1:{port}/ (Ctrl-C stops it)")
        self.stdout.flush()
        try:
            waitress.serve(
                application, host="127.0.0.1", port=port, threads=8, max_request_body_size=2**30, _quiet=True
            )
        finally:
            worker.terminate()


def _start_worker() -> subprocess.Popen:
    """A process for what outlasts a request, such as the check of a scan, at a lower priority than the pages."""
    command = [sys.executable, settings.BASE_DIR / "manage.py", "db_worker", "--no-reload", "--no-startup-delay"]
    return subprocess.Popen(command, preexec_fn=_beside)  # noqa: S603


def _beside() -> None:
    """In the worker before it starts: gives way to the pages, and ends when the server is killed."""
    os.nice(5)
    if sys.platform == "linux":
        ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGTERM)
