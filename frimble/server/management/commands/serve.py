"""`manage.py serve`: the application behind a production server, with its worker and its backups beside it."""

import io
import socket

import waitress
from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError

from frimble.config.hosts import own_addresses, own_names
from frimble.core.conclusions import RuleViolation
from frimble.exchange import taking
from frimble.exchange.packages import services as packages
from frimble.people.first_start import code as first_code
from frimble.server import health, lock
from frimble.server.backups.timer import BackupTimer
from frimble.server.https.authority import server_certificate
from frimble.server.https.front import Front
from frimble.server.worker import WatchedWorker
from frimble.stencils.inspecting.photo import services as photos
from frimble.stencils.proofs import services as proofs

# Reading is done in one loop: connections that say nothing hold no thread, and are closed after a while.
_LIMITS = {"threads": 8, "max_request_body_size": 2**30, "connection_limit": 1000, "channel_timeout": 60}
_FORWARDED = {"x-forwarded-for", "x-forwarded-proto", "x-forwarded-host"}


def _take_up_left() -> None:
    """Before a worker starts: what a killed one left."""
    call_command("tidy_scans", stdout=io.StringIO())
    taking.take_up_left()
    packages.take_up_left()
    proofs.take_up_left()
    photos.take_up_left()


class Command(BaseCommand):
    help = "Serve Frimble at 127.0.0.1, or by https to every device of the local network with --listen 0.0.0.0:8443."

    def add_arguments(self, parser):
        parser.add_argument("--port", type=int, default=8000, help="at 127.0.0.1, for this machine or a proxy on it")
        parser.add_argument("--listen", metavar="ADDRESS:PORT", help="by https to other devices, such as 0.0.0.0:8443")
        parser.add_argument("--scenario", action="store_true", help="migrate and load the made-up shop first")

    def handle(self, *args, port, listen, scenario, **options):
        try:
            with lock.held(settings.VAR_DIR):
                self._serve(port, _address(listen), scenario)
        except RuleViolation as refusal:
            raise CommandError(refusal.reason) from None

    def _serve(self, port, listen, scenario) -> None:
        if scenario:
            # In this process: each command of its own would load everything anew.
            call_command("migrate", verbosity=0)
            call_command("load_scenario", stdout=self.stdout)
        if listen:
            _go_https()
        # Read only now: its middleware takes the settings as they stand.
        from frimble.config.wsgi import application

        front = self._front(listen) if listen else None
        health.worker = WatchedWorker(self._say, _take_up_left)
        backups = BackupTimer()
        backups.start()
        self._greet(front, port)
        try:
            if front:
                front.start()
                waitress.serve(front.wrap(application), sockets=[front.inner], _quiet=True, **_LIMITS)
            else:
                waitress.serve(application, host="127.0.0.1", port=port, _quiet=True, **_LIMITS, **_proxied())
        finally:
            if front:
                front.stop()
            backups.stop()
            health.worker.stop()

    def _front(self, listen) -> Front:
        names = ["localhost", "127.0.0.1", *own_names(), *settings.ROOM_HOSTS.learnt()]
        certificate = server_certificate(settings.VAR_DIR / "https", names)
        return Front(listen, socket.create_server(("127.0.0.1", 0)), *certificate)

    def _greet(self, front, port) -> None:
        if front:
            name = next(iter(own_addresses()), socket.gethostname())
            address = f"https://{name}:{front.port}/"
            self._say(f"Frimble is at {address} for every device of this network (Ctrl-C stops it).")
            self._say(f"A device trusts it after {address}trust/ was followed once.")
        else:
            address = f"http://127.0.0.1:{port}/"
            self._say(f"Frimble is at {address} (Ctrl-C stops it)")
        if first_code.needed():
            self._say(f"Nobody belongs to this room yet. Open {address} and type the code {first_code.make()}")

    def _say(self, words: str) -> None:
        self.stdout.write(words)
        self.stdout.flush()


def _address(listen: str | None) -> tuple[str, int] | None:
    if not listen:
        return None
    host, _, port = listen.rpartition(":")
    if not host or not port.isdigit() or int(port) > 65535:
        raise CommandError("Say where to listen as ADDRESS:PORT, such as 0.0.0.0:8443.")
    return host, int(port)


def _go_https() -> None:
    """Cookies for https alone, browsers held to it, and this machine's own names let in."""
    settings.SESSION_COOKIE_SECURE = settings.CSRF_COOKIE_SECURE = True
    settings.SECURE_HSTS_SECONDS = 31_536_000
    settings.ALLOWED_HOSTS = settings.ROOM_HOSTS
    if not first_code.needed():
        settings.ROOM_HOSTS.learn()


def _proxied() -> dict:
    """What a proxy on this machine says of its visitors is believed, where the settings say there is one."""
    if not settings.PROXY:
        return {}
    return {"trusted_proxy": "127.0.0.1", "trusted_proxy_headers": _FORWARDED, "clear_untrusted_proxy_headers": True}
