"""Times the register's pages at the size of a large works, as ratios to an empty page through the same middleware.

Run: .venv/bin/python bench/register.py
Two shops are made in temporary folders, the second ten times the first: times should stay flat as records grow. The empty
page is the frame of every page (line, slate, light) with nothing in it.
"""

import argparse
import os
import subprocess
import sys
import tempfile
import time
from datetime import timedelta
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))
from bench import coat_room, light_room  # noqa: E402

SIZES = ((500, 12, 10), (5000, 12, 10))  # screens, cycles each, records a cycle
PAGES = {
    "today": "/", "passport": "/screens/Q-0250/", "by code": "/find/?q=Q-0250", "search": "/screens/",
    "search by mesh": "/screens/?text=43-80&order=tension", "slack ones": "/screens/?due=slack",
    "tension due": "/screens/?due=tension&order=cycles", "coat": "/screens/at/coat/", "reclaim": "/screens/at/reclaim/",
    "rack": "/screens/rack/", "lives": "/screens/lives/",
    "keep or reclaim": "/screens/Q-0000/keep/", "moiré": "/screens/mesh/1/moire/",
    **coat_room.PAGES, "exposure chart": "/expose/chart/", "light sources": "/expose/lamps/",
    "light given": "/expose/log/", **light_room.PAGES,
}  # fmt: skip


def _facts(kind: str, cycle) -> dict:
    """What a record of this kind says, the same in every cycle but for the tension, which falls."""
    wet = {"wet_until": cycle.started_at.isoformat()}
    return {
        "tension": {"mean": 26 - cycle.number * 0.3},
        "degrease": {"dwell_s": 30} | wet,
        "coat": {"layer": 1, "layers": 1} | wet,
        "expose": {"is_test": False, "given_s": 60},
        "wash": {"soak_s": 60, "rinse_s": 120} | wet,
        "inspect": {"passed": True, "pinholes": 0},
        "to_press": {"job": ""},
        "from_press": {"impressions": 200},
        "reclaim": {"rounds": 1, "minutes": 8, "outcome": "clean"},
    }.get(kind, {})


def build(screens: int, cycles: int, records: int) -> None:
    """A shop of that size, written straight into its tables."""
    from django.utils import timezone

    from frimble.core import lifecycle
    from frimble.people.models import Person
    from frimble.screens.ledger import summarize_lives
    from frimble.screens.models import Cycle, Frame, MeshInstallation, MeshType, Rack, Screen, ScreenEvent, Slot

    now = timezone.now()
    person = Person.objects.create_user("bench", password="x", role="lead")  # noqa: S106
    meshes = [
        MeshType.objects.get_or_create(count_per_cm=n, thread_um=d)[0] for n, d in ((43, 80), (77, 48), (120, 34))
    ]
    frames = Frame.objects.bulk_create(
        Frame(code=f"Q-{k:04d}", outer_width_mm=580, outer_height_mm=790, registered_at=now, registered_by=person)
        for k in range(screens)
    )
    born = now - timedelta(days=700)
    installations = MeshInstallation.objects.bulk_create(
        MeshInstallation(frame=f, number=1, mesh=meshes[k % 3], line="photo", mounted_at=born)
        for k, f in enumerate(frames)
    )
    racks = [Rack.objects.create(code=f"R{k}", name=f"Rack {k}") for k in range(max(1, screens // 100))]
    slots = Slot.objects.bulk_create(
        Slot(rack=rack, code=f"{rack.code}-{n:03d}", column=n % 20 + 1, row=n // 20 + 1, width_mm=680, height_mm=930)
        for rack in racks
        for n in range(100)
    )
    made = Cycle.objects.bulk_create(
        (
            Cycle(
                installation=m,
                number=c + 1,
                started_at=born + timedelta(days=50 * c),
                closed_at=born + timedelta(days=50 * c + 9),
            )
            for m in installations
            for c in range(cycles)
        ),
        batch_size=5000,
    )
    kinds = ("tension", "degrease", "coat", "expose", "wash", "inspect", "to_press", "from_press", "strip", "reclaim")
    for first in range(0, len(made), 4000):
        ScreenEvent.objects.bulk_create(
            (
                ScreenEvent(
                    installation=c.installation,
                    cycle=c,
                    kind=kinds[r % 10],
                    at=c.started_at + timedelta(hours=r * 20),
                    by=person,
                    facts=_facts(kinds[r % 10], c),
                    summary=kinds[r % 10],
                )
                for c in made[first : first + 4000]
                for r in range(records)
            ),
            batch_size=5000,
        )
    states = [s for s in lifecycle.State if s not in (lifecycle.State.NO_MESH, lifecycle.State.AWAY)]
    Screen.objects.bulk_create(
        Screen(
            frame=m.frame,
            installation=m,
            state=lifecycle.State.BARE if k % 4 else states[k // 4 % len(states)],
            since=now,
            cycles=cycles,
            coated_at=now if k % 4 == 0 else None,
            tension_n_per_cm=18 + k % 9,
            tension_at=now - timedelta(days=k % 60),
            slot=slots[k] if k % 4 and k < len(slots) else None,
        )
        for k, m in enumerate(installations)
    )
    light_room.build(person, now)
    coat_room.build(person, now)
    summarize_lives()


def measure(runs: int) -> None:
    """Best of some runs of each page: times in ms, their ratio to the empty page timed beside it, and queries."""
    import django.urls
    from django.db import connection
    from django.shortcuts import render
    from django.test import Client
    from django.test.utils import CaptureQueriesContext

    from frimble.config import urls
    from frimble.people.models import Person

    urls.urlpatterns.append(django.urls.path("empty/", lambda request: render(request, "ui/base.html")))
    client = Client()
    client.force_login(Person.objects.get(), backend="django.contrib.auth.backends.ModelBackend")
    for name, address in PAGES.items():
        pages = {"/empty/": [], address: []}
        for page in pages:
            client.get(page)
        # Turn about, so that a machine that slows down slows both.
        for _ in range(runs):
            for page, took in pages.items():
                took.append(_timed(client, page))
        base, best = (min(took) for took in pages.values())
        with CaptureQueriesContext(connection) as queries:
            client.get(address)
        print(f"  {name:15s} {best * 1000:6.1f} ms  {best / base:5.1f} × empty  {len(queries)} queries")


def _timed(client, address) -> float:
    began = time.perf_counter()
    answer = client.get(address)
    took = time.perf_counter() - began
    if answer.status_code not in (200, 302):
        raise SystemExit(f"{address} answered {answer.status_code}")
    return took


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--runs", type=int, default=7)
    parser.add_argument("--shop", type=int, nargs=3)
    given = parser.parse_args()
    if given.shop is None:
        for size in SIZES:
            with tempfile.TemporaryDirectory() as folder:
                line = [sys.executable, __file__, "--runs", str(given.runs), "--shop", *map(str, size)]
                subprocess.run(line, check=True, env=os.environ | {"FRIMBLE_VAR": folder})  # noqa: S603
        return
    os.environ["DJANGO_SETTINGS_MODULE"] = "frimble.config.settings"
    import django
    from django.core.management import call_command

    django.setup()
    from django.conf import settings

    settings.ALLOWED_HOSTS = ["testserver"]
    call_command("migrate", verbosity=0)
    build(*given.shop)
    screens, cycles, records = given.shop
    print(f"{screens} screens, {screens * cycles} cycles, {screens * cycles * records} records")
    measure(given.runs)


if __name__ == "__main__":
    main()
