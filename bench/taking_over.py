"""A list of three thousand screens taken over while others look and record: how long they wait, beside the same before it.

.venv/bin/python -m bench.taking_over [--screens 3000] [--others 4]
"""

import argparse
import os
import statistics
import subprocess
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.request
import uuid

from bench.server.live_devices import Device, wait_for

_PORT = 8128
_PAGES = ("/", "/screens/Q-014/", "/screens/?text=43-80", "/expose/chart/")
_BEFORE_S, _PAUSE_S = 15, 0.6


class Others:
    """People who look at pages and put screens away, each with how long every answer took and what it was."""

    def __init__(self, base: str, cookies: Device, number: int):
        self.base, self.device, self.stop = base, cookies, threading.Event()
        self.took: list[tuple[float, bool, int]] = []
        self.threads = [threading.Thread(target=self._work, args=(k,)) for k in range(number)]

    def _work(self, number: int) -> None:
        code, turn = f"Q-0{14 + number:02d}", 0
        while not self.stop.is_set():
            turn += 1
            self._timed(lambda turn=turn: self.device.get(_PAGES[turn % len(_PAGES)]), False)
            path, seen = f"/screens/{code}/place/", {}
            self._timed(lambda path=path, seen=seen: seen.update(page=self.device.get(path)), False)
            if seen:
                self._timed(
                    lambda path=path, seen=seen: self.device.post(path, seen["page"], slot="", note="bench"), True
                )
            time.sleep(_PAUSE_S)

    def _timed(self, act, records: bool) -> None:
        began, status = time.monotonic(), 200
        try:
            act()
        except urllib.error.HTTPError as error:
            status = error.code
        self.took.append((time.monotonic() - began, records, status))


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--screens", type=int, default=3000)
    parser.add_argument("--others", type=int, default=4)
    asked = parser.parse_args()
    environment = os.environ | {"FRIMBLE_VAR": tempfile.mkdtemp(prefix="frimble-taking-")}
    command = [sys.executable, "manage.py", "serve", "--scenario", "--port", str(_PORT)]
    server = subprocess.Popen(command, env=environment, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)  # noqa: S603
    try:
        return run(asked.screens, asked.others)
    finally:
        server.terminate()


def run(screens: int, number: int) -> int:
    base = f"http://127.0.0.1:{_PORT}"
    lead = wait_for(base)
    lead.sign_in("odile")
    others = Others(base, lead, number)
    for thread in others.threads:
        thread.start()
    time.sleep(_BEFORE_S)
    before, began = len(others.took), time.monotonic()
    take(lead, base, screens)
    took = time.monotonic() - began
    during = len(others.took)
    others.stop.set()
    for thread in others.threads:
        thread.join()
    print(f"{screens} screens stood in the shop {took:.1f} s after the list was sent.")
    was, now = told("before", others.took[:before]), told("meanwhile", others.took[before:during])
    print(f"Their 95th percentile meanwhile is {now / was:.1f} × that before.")
    return 0


def take(lead: Device, base: str, screens: int) -> None:
    """Hand a list in, take it over, and wait until all its screens are seen."""
    rows = [f"X-{k:05d};43-80 white;580 x 790 mm;aluminium;{20 + k % 8}.5;2026-03-14" for k in range(screens)]
    text = "\n".join(["Screen;Mesh;Frame size;Type;Tension N/cm;Measured", *rows])
    address = bring(lead, base, text)
    columns = {"code": 0, "mesh": 1, "size": 2, "kind": 3, "tension": 4, "measured": 5}
    choices = {"unit": "mm", "counts": "cm", "dates": "day"} | {f"column_{name}": at for name, at in columns.items()}
    lead.post(address, lead.get(address), take="1", **choices)
    while "taken over" not in (page := lead.get(address)):
        if "Nothing was taken over" in page:
            raise SystemExit("The list was refused.")
        time.sleep(0.3)


def bring(lead: Device, base: str, text: str) -> str:
    """The address of the list's own page."""
    token = lead.get("/exchange/").split('name="csrfmiddlewaretoken" value="')[1].split('"')[0]
    mark = uuid.uuid4().hex
    parts = [
        f'--{mark}\r\nContent-Disposition: form-data; name="csrfmiddlewaretoken"\r\n\r\n{token}\r\n',
        f'--{mark}\r\nContent-Disposition: form-data; name="file"; filename="list.csv"\r\n\r\n{text}\r\n--{mark}--\r\n',
    ]
    headers = {"Origin": base, "Content-Type": f"multipart/form-data; boundary={mark}"}
    asked = urllib.request.Request(f"{base}/exchange/", "".join(parts).encode(), headers)  # noqa: S310
    return lead.opener.open(asked, timeout=60).geturl().removeprefix(base)


def told(when: str, took: list[tuple[float, bool, int]]) -> float:
    """Print what others met, and give the 95th percentile of their waits, s."""
    waits = [seconds for seconds, _, _ in took]
    broken = sum(status >= 500 for *_, status in took)
    p95 = statistics.quantiles(waits, n=20)[-1]
    print(f"{when}: {len(waits)} answers, {sum(r for _, r, _ in took)} of them records, {broken} broke; ", end="")
    print(f"median {statistics.median(waits) * 1000:.0f} ms, 95 % within {p95:.2f} s, longest {max(waits):.2f} s")
    return p95


if __name__ == "__main__":
    sys.exit(main())
