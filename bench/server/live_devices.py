"""Fifty devices that look for changes, and how long after a record each of them knows, beside a busy server.

.venv/bin/python -m bench.server.live_devices --devices 50
"""

import argparse
import os
import re
import statistics
import subprocess
import sys
import tempfile
import threading
import time
import urllib.parse
import urllib.request
from http.cookiejar import CookieJar

_EVERY_S = 1.5
_RECORDS = 8


class Device:
    """A browser that is signed in: its cookies, and what it asks."""

    def __init__(self, base: str):
        self.base = base
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(CookieJar()))

    def get(self, path: str) -> str:
        return self.opener.open(self.base + path, timeout=30).read().decode()

    def post(self, path: str, page: str, **fields) -> None:
        token = re.search(r'name="csrfmiddlewaretoken" value="(\w+)"', page)[1]
        data = urllib.parse.urlencode({"csrfmiddlewaretoken": token} | fields).encode()
        asked = urllib.request.Request(self.base + path, data, {"Origin": self.base})  # noqa: S310
        self.opener.open(asked, timeout=30).read()

    def sign_in(self, name: str) -> None:
        self.post("/people/sign-in/", self.get("/people/sign-in/"), username=name, password=f"{name}-pennant")


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--devices", type=int, default=50)
    asked = parser.parse_args()
    folder = tempfile.mkdtemp(prefix="frimble-live-")
    environment = os.environ | {"FRIMBLE_VAR": folder}
    command = [sys.executable, "manage.py", "serve", "--scenario", "--port", "8127"]
    server = subprocess.Popen(command, env=environment, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)  # noqa: S603
    try:
        return run(asked.devices)
    finally:
        server.terminate()


def run(devices: int) -> int:
    base = "http://127.0.0.1:8127"
    first = wait_for(base)
    first.sign_in("odile")
    # One sign-in, and its cookies for all: fifty slow password hashes are not what is measured.
    known: list[dict[str, float]] = [{} for _ in range(devices)]
    asks: list[float] = []
    stop = threading.Event()

    def look(seen: dict[str, float], offset: float) -> None:
        time.sleep(offset)
        while not stop.is_set():
            began = time.monotonic()
            version = first.get("/changes/")
            seen.setdefault(version, time.monotonic())
            asks.append(time.monotonic() - began)
            time.sleep(_EVERY_S)

    threads = [threading.Thread(target=look, args=(seen, n * _EVERY_S / devices)) for n, seen in enumerate(known)]
    for thread in threads:
        thread.start()
    time.sleep(3)
    delays = []
    for number in range(_RECORDS):
        page = first.get("/screens/rack/define/")
        fields = {"code": f"Z{number}", "name": "Bench", "columns": 1, "rows": 1, "width_mm": 600, "height_mm": 800}
        first.post("/screens/rack/define/", page, **fields)
        made, version = time.monotonic(), first.get("/changes/")
        time.sleep(2 * _EVERY_S + 1)
        delays += [seen[version] - made for seen in known if version in seen]
    stop.set()
    for thread in threads:
        thread.join()
    told = len(delays) / (_RECORDS * devices)
    print(
        f"{devices} devices, {len(asks)} looks: median {statistics.median(asks) * 1000:.1f} ms, worst {max(asks):.2f} s"
    )
    print(
        f"{told:.1%} of devices knew of each record: median {statistics.median(delays):.2f} s, worst {max(delays):.2f} s"
    )
    return 0


def wait_for(base: str) -> Device:
    device = Device(base)
    for _ in range(240):
        try:
            device.get("/alive/")
            return device
        except OSError:
            time.sleep(0.5)
    raise SystemExit("The server did not start.")


if __name__ == "__main__":
    sys.exit(main())
