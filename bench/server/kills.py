"""The server killed again and again while many record and a timer's taps come in: is anything lost that it said it had?

.venv/bin/python -m bench.server.kills [--kills 200] [--writers 32]
"""

import argparse
import json
import os
import random
import re
import sqlite3
import subprocess
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.parse
import urllib.request
import uuid
from dataclasses import dataclass, field
from http.client import HTTPException
from http.cookiejar import CookieJar
from pathlib import Path

_PORT = 8129
_FORM = "application/x-www-form-urlencoded"
_BASE = f"http://127.0.0.1:{_PORT}"
_LIVES_S = (1.0, 4.0)
# More moves of the card than are ever tapped: the run stays open for all of them.
_MOVES = 6000


class _Stay(urllib.request.HTTPRedirectHandler):
    """The redirect is the acknowledgement; the page it leads to is not asked for."""

    def redirect_request(self, *args):
        return None


@dataclass
class Client:
    """Somebody who records: tension on one screen, or taps of one run."""

    cookies: CookieJar
    base: str = _BASE
    said_yes: list[str] = field(default_factory=list)

    def __post_init__(self):
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.cookies), _Stay)

    def page(self, path: str) -> str:
        return self.opener.open(self.base + path, timeout=5).read().decode()

    def post(self, path: str, data: bytes, kind: str, token: str) -> int:
        headers = {"Origin": self.base, "Content-Type": kind, "X-CSRFToken": token}
        asked = urllib.request.Request(self.base + path, data, headers)  # noqa: S310
        try:
            return self.opener.open(asked, timeout=5).status
        except urllib.error.HTTPError as error:
            return error.code


def value(page: str, name: str) -> str:
    return re.search(rf'name="{name}"[^>]*value="([^"]*)"', page)[1]


def measures(client: Client, code: str, stop: threading.Event) -> None:
    """Record tension on a screen until the server is gone."""
    path = f"/screens/{code}/tension/"
    while not stop.is_set():
        page, mark = client.page(path), uuid.uuid4().hex
        typed = {"centre_warp_1": "23", "centre_weft_1": "23", "note": mark, "revision": value(page, "revision")}
        body = urllib.parse.urlencode(typed).encode()
        status = client.post(path, body, _FORM, value(page, "csrfmiddlewaretoken"))
        if status == 302:
            client.said_yes.append(mark)


def taps(client: Client, run: int, stop: threading.Event) -> None:
    """Send taps of a run, each as the browser makes it."""
    token = value(client.page("/"), "csrfmiddlewaretoken")
    while not stop.is_set():
        mark = str(uuid.uuid4())
        body = json.dumps({"taps": [{"uid": mark, "kind": "move", "at": time.time() * 1000}]}).encode()
        if client.post(f"/expose/run/{run}/taps/", body, "application/json", token) == 200:
            client.said_yes.append(mark.replace("-", ""))
        time.sleep(0.02)


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--kills", type=int, default=200)
    parser.add_argument("--writers", type=int, default=32)
    asked = parser.parse_args()
    folder = Path(tempfile.mkdtemp(prefix="frimble-kills-"))
    os.environ |= {"FRIMBLE_VAR": str(folder), "DJANGO_SETTINGS_MODULE": "frimble.config.settings"}
    screens, run = made_ready(asked.writers)
    cookies = CookieJar()
    clients = [Client(cookies) for _ in range(asked.writers + 1)]
    rng = random.Random(7)
    for number in range(asked.kills):
        one_life(clients, screens, run, rng)
        if number % 20 == 19:
            print(f"{number + 1} kills, {sum(len(c.said_yes) for c in clients)} acknowledged", flush=True)
    return told(folder, clients)


def made_ready(writers: int) -> tuple[list[str], int]:
    """The made-up shop with an open run; the screens that are measured, and the run's number."""
    import django

    django.setup()
    from django.core.management import call_command
    from django.db import connections
    from django.utils import timezone

    from frimble.demo import loader
    from frimble.exposures.models import Tap
    from frimble.screens.models import Screen
    from frimble.testing.records import open_run

    call_command("migrate", verbosity=0)
    loader.load(timezone.now())
    run = open_run("Q-006", total_s=_MOVES, moves_s=[float(k) for k in range(1, _MOVES)])
    now = timezone.now()
    Tap.objects.create(run=run, uid=uuid.uuid4(), kind="start", at=now, received_at=now)
    codes = list(Screen.objects.filter(state="bare").values_list("frame__code", flat=True)[:writers])
    connections.close_all()
    return codes, run.pk


def one_life(clients: list[Client], screens: list[str], run: int, rng: random.Random) -> None:
    """Start the server, let all record, and kill it in the middle."""
    command = [sys.executable, "manage.py", "serve", "--port", str(_PORT)]
    server = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, start_new_session=True)  # noqa: S603
    up(clients[0])
    stop = threading.Event()
    works = [(measures, code) for code in screens] + [(taps, run)]
    threads = [
        threading.Thread(target=until_gone, args=(work, client, what, stop))
        for client, (work, what) in zip(clients, works, strict=True)
    ]
    for thread in threads:
        thread.start()
    time.sleep(rng.uniform(*_LIVES_S))
    os.killpg(server.pid, 9)
    server.wait()
    stop.set()
    for thread in threads:
        thread.join()


def until_gone(work, client: Client, what, stop: threading.Event) -> None:
    try:
        work(client, what, stop)
    except (OSError, TypeError, HTTPException):
        return  # The server is gone, or sent half a page.


def up(client: Client) -> None:
    for _ in range(600):
        try:
            if "/people/sign-in/" not in client.opener.open(client.base + "/people/me/", timeout=5).geturl():
                return
        except urllib.error.HTTPError:
            page = client.page("/people/sign-in/")
            typed = {"username": "odile", "password": "odile-pennant"}
            token = value(page, "csrfmiddlewaretoken")
            client.post(
                "/people/sign-in/", urllib.parse.urlencode(typed).encode(), "application/x-www-form-urlencoded", token
            )
        except OSError:
            time.sleep(0.1)
    raise SystemExit("The server did not come up.")


def told(folder: Path, clients: list[Client]) -> int:
    """What was acknowledged and is not there, and whether the rest is whole."""
    with sqlite3.connect(folder / "frimble.sqlite3") as database:
        notes = {row[0] for row in database.execute("select note from screens_screenevent where note <> ''")}
        uids = {row[0] for row in database.execute("select uid from exposures_tap")}
        whole = database.execute("pragma integrity_check").fetchone()[0]
    *writers, tapping = clients
    recorded = [mark for client in writers for mark in client.said_yes]
    lost = [mark for mark in recorded if mark not in notes] + [mark for mark in tapping.said_yes if mark not in uids]
    print(f"{len(recorded)} records and {len(tapping.said_yes)} taps acknowledged, {len(lost)} lost; database: {whole}")
    told = subprocess.run([sys.executable, "manage.py", "verify"], capture_output=True, text=True, check=False)
    print(told.stdout.strip().splitlines()[-1])
    return 1 if lost or whole != "ok" or told.returncode else 0


if __name__ == "__main__":
    sys.exit(main())
