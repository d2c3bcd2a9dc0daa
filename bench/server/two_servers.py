"""Two servers, each with its worker, on one PostgreSQL database: many record through both, and each follows the other.

frimble/testing/on_postgres.sh .venv/bin/python -m bench.server.two_servers [--writers 32] [--seconds 20]
"""

import argparse
import os
import statistics
import subprocess
import sys
import tempfile
import threading
import time
import urllib.parse
from http.cookiejar import CookieJar

from bench import kills

_PORTS = (8131, 8132)
_LOOKS = 12


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--writers", type=int, default=32)
    parser.add_argument("--seconds", type=float, default=20)
    asked = parser.parse_args()
    if not os.environ.get("DATABASE_URL", "").startswith("postgres"):
        raise SystemExit("A PostgreSQL database is wanted: see the first lines of this file.")
    folders = [tempfile.mkdtemp(prefix="frimble-two-") for _ in _PORTS]
    os.environ |= {"FRIMBLE_SECRET_KEY": "for the bench alone", "DJANGO_SETTINGS_MODULE": "frimble.config.settings"}
    os.environ["FRIMBLE_VAR"] = folders[0]
    # Two writers a screen, one at each server.
    screens, _ = kills.made_ready(asked.writers // 2)
    servers = [
        subprocess.Popen(  # noqa: S603
            [sys.executable, "manage.py", "serve", "--port", str(port)],
            env=os.environ | {"FRIMBLE_VAR": folder},
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        for port, folder in zip(_PORTS, folders, strict=True)
    ]
    try:
        return run(screens, asked.seconds)
    finally:
        for server in servers:
            server.terminate()


def run(screens: list[str], seconds: float) -> int:
    cookies = CookieJar()
    bases = [f"http://127.0.0.1:{port}" for port in _PORTS]
    for base in bases:
        kills.up(kills.Client(cookies, base))
    clients = [(kills.Client(cookies, base), code) for code in screens for base in bases]
    stop = threading.Event()
    threads = [
        threading.Thread(target=kills.until_gone, args=(kills.measures, client, code, stop)) for client, code in clients
    ]
    for thread in threads:
        thread.start()
    time.sleep(seconds)
    stop.set()
    for thread in threads:
        thread.join()
    lost = missing([mark for client, _ in clients for mark in client.said_yes])
    one, other = (kills.Client(cookies, base) for base in bases)
    # Screens that take a record as it is: of others the page asks whether so much tension lost is right.
    plain = [code for client, code in clients if client.said_yes]
    delays = [followed(one, other, plain[k % len(plain)]) for k in range(_LOOKS)]
    print(
        f"A record at one server is known at the other after {statistics.median(delays) * 1000:.0f} ms (median), at most "
        f"{max(delays) * 1000:.0f} ms"
    )
    kept = chart_follows(one, other)
    print(f"A time withdrawn at one server {'is gone' if kept else 'STILL STANDS'} at the other's next page")
    told = subprocess.run([sys.executable, "manage.py", "verify"], capture_output=True, text=True, check=False)
    print(told.stdout.strip().splitlines()[-1])
    return 1 if lost or not kept or told.returncode else 0


def missing(marks: list[str]) -> int:
    """How many acknowledged records the database does not hold."""
    from frimble.screens.models import ScreenEvent

    held = set(ScreenEvent.objects.filter(note__in=marks).values_list("note", flat=True))
    lost = len(set(marks) - held)
    print(
        f"{len(marks)} records acknowledged by two servers, {lost} lost, {len(marks) - len(held) - lost} written twice"
    )
    return lost


def followed(one: kills.Client, other: kills.Client, code: str) -> float:
    """Seconds from the answer to a record at one server until the other knows of it."""
    path, status = f"/screens/{code}/tension/", 0
    # Refused is who comes second to one that still waits from before: look again, as somebody would.
    while status != 302:
        before, page = other.page("/changes/"), one.page(path)
        typed = {"centre_warp_1": "23", "centre_weft_1": "23", "revision": kills.value(page, "revision")}
        body = urllib.parse.urlencode(typed).encode()
        status = one.post(path, body, "application/x-www-form-urlencoded", kills.value(page, "csrfmiddlewaretoken"))
    began = time.monotonic()
    while other.page("/changes/") == before:
        if time.monotonic() - began > 10:
            raise SystemExit("The other server never knew.")
    return time.monotonic() - began


def chart_follows(one: kills.Client, other: kills.Client) -> bool:
    """Whether a page kept by the other server is worked out anew when what it rests on changes here."""
    from frimble.exposures.models import ChartEntry

    entry = ChartEntry.objects.in_force().first()
    mark = f"/expose/chart/{entry.pk}/withdraw/"
    # Looked at twice: what it keeps is kept by now.
    stood = [mark in other.page("/expose/chart/") for _ in range(2)]
    page = one.page(mark)
    body = urllib.parse.urlencode({"reason": "for the bench"}).encode()
    one.post(mark, body, "application/x-www-form-urlencoded", kills.value(page, "csrfmiddlewaretoken"))
    return all(stood) and mark not in other.page("/expose/chart/")


if __name__ == "__main__":
    sys.exit(main())
