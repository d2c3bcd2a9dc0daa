"""Times every page there is against a signed-in redirect, in one run, on a large shop whose day is planned.

.venv/bin/python -m bench.pages [--runs 7] [--screens 5000]

Pages are found from the address list; one for which no address is known is named, and the run fails. The redirect is what
the search line answers when nothing was typed. Printed are each page's ratios to it and its queries, the dearest first;
then what is beyond what was wanted by either. Turn about, a machine that slows down slows both, and the redirect runs on
caches that the page has emptied; each by itself, both are at their best. Files and pictures are left out. Tables without
a row are named: what their pages would show is not measured. In the evening the planned day is the next one.
"""

import argparse
import os
import tempfile
import time
from collections.abc import Iterator
from dataclasses import dataclass
from uuid import uuid4

from bench import grown_shop, register

_FRAME_AT_MOST, _PAGE_AT_MOST, _QUERIES_AT_MOST = 3, 12, 15
_FRAME, _REDIRECT = "the frame alone", "/find/"
_CYCLES, _RECORDS = 12, 10


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--runs", type=int, default=7)
    parser.add_argument("--screens", type=int, default=5000)
    asked = parser.parse_args()
    os.environ["DJANGO_SETTINGS_MODULE"] = "frimble.config.settings"
    with tempfile.TemporaryDirectory() as folder:
        os.environ["FRIMBLE_VAR"] = folder
        return run(asked.runs, asked.screens)


def run(runs: int, screens: int) -> int:
    import django

    django.setup()
    from django.conf import settings
    from django.core.management import call_command
    from django.shortcuts import render
    from django.test import Client
    from django.urls import path
    from django.utils import timezone

    from frimble.config import urls
    from frimble.demo import loader
    from frimble.people.models import Person

    settings.ALLOWED_HOSTS = ["testserver"]
    call_command("migrate", verbosity=0)
    loader.load(timezone.now())
    register.build(screens, _CYCLES, _RECORDS)
    grown_shop.grow(Person.objects.get(username="odile"), timezone.now())
    records = screens * _CYCLES * _RECORDS
    urls.urlpatterns.append(path("empty/", lambda request: render(request, "ui/base.html")))
    client = Client()
    client.force_login(Person.objects.get(username="odile"))
    pages = {_FRAME: "/empty/"} | addresses()
    print(f"The made-up shop and {screens} screens with {records} records; empty:", *empty_tables() or ["no table"])
    rows, unknown = timed(client, pages, runs)
    print("  each by itself, turn about")
    for row in rows:
        print(
            f"  {row.by_itself:5.1f} ×  {row.turn_about:5.1f} ×  {row.ms:6.1f} ms  {row.queries:3d} queries  {row.name}"
        )
    for words, ratio in (("each by itself", "by_itself"), ("turn about", "turn_about")):
        beyond = [row.name for row in rows if row.is_beyond(getattr(row, ratio))]
        print(f"{len(rows)} pages; {words} beyond what was wanted: {', '.join(beyond) or 'none'}")
    print(f"no address known for: {', '.join(unknown) or 'none'}")
    return 1 if unknown else 0


def empty_tables() -> list[str]:
    """Tables of ours without a row."""
    from django.apps import apps

    ours = (m for m in apps.get_models() if m.__module__.startswith("frimble."))
    return [m._meta.db_table for m in ours if not m._meta.proxy and not m.objects.exists()]


def addresses() -> dict[str, str]:
    """Name → address of what the browser's tests open, and of every other name on the address list."""
    from django.urls import get_resolver, resolve

    from frimble.testing.browser.pages import every_page

    pages = every_page()
    known = {resolve(address.split("?")[0]).view_name for address in pages.values()}
    return pages | {name: address for name, address in _named(get_resolver()) if name not in known}


def _named(resolver, space: str = "") -> Iterator[tuple[str, str]]:
    """Each name on the address list with an address of it; what stands for the arguments is the shop's first of its kind."""
    from django.urls import URLPattern, reverse

    for pattern in resolver.url_patterns:
        if not isinstance(pattern, URLPattern):
            yield from _named(pattern, f"{pattern.namespace}:" if pattern.namespace else space)
        elif pattern.name:
            name = space + pattern.name
            usual = {key: _usual(key, converter) for key, converter in pattern.pattern.converters.items()}
            yield name, reverse(name, kwargs=usual)


def _usual(key: str, converter):
    from django.urls.converters import IntConverter, UUIDConverter

    if isinstance(converter, IntConverter):
        return 1
    return uuid4() if isinstance(converter, UUIDConverter) else _WORDS.get(key, "Q-014")


# What stands for a word in an address, where it is no screen.
_WORDS = {"kind": "degrease"}
# Files, and what only a server shows that listens on the network.
_NOT_PAGES = {
    "jobs:photo", "jobs:safety-sheet", "stencils:latent-photo", "press:print-photo", "screens:mark-photo",
    "exchange:package-progress", "exchange:export", "exposures:target-file", "server:trust", "server:authority",
}  # fmt: skip


@dataclass(frozen=True)
class Timed:
    """A page's best time, ms, as multiples of the redirect's, and its queries."""

    name: str
    by_itself: float
    turn_about: float
    ms: float
    queries: int

    def is_beyond(self, ratio: float) -> bool:
        return ratio > (_FRAME_AT_MOST if self.name == _FRAME else _PAGE_AT_MOST) or self.queries > _QUERIES_AT_MOST


def timed(client, pages: dict[str, str], runs: int) -> tuple[list[Timed], list[str]]:
    """Each that answers with a page, the dearest first; and those without a known address."""
    from django.db import connection
    from django.test.utils import CaptureQueriesContext

    rows, unknown = [], []
    for name, address in pages.items():
        if name in _NOT_PAGES:
            continue
        answer = client.get(address)
        # What only records answers 405, what is a file with another type.
        if answer.status_code == 405 or not answer.get("Content-Type", "").startswith("text/html"):
            continue
        if answer.status_code == 404 and name != "not found":
            unknown.append(f"{name} ({address})")
            continue
        turns = [(_took(client, _REDIRECT), _took(client, address)) for _ in range(runs)]
        base, best = (min(times) for times in zip(*turns, strict=True))
        page, redirect = (min(_took(client, each) for _ in range(runs)) for each in (address, _REDIRECT))
        with CaptureQueriesContext(connection) as queries:
            client.get(address)
        rows.append(Timed(name, page / redirect, best / base, page * 1000, len(queries)))
    return sorted(rows, key=lambda row: -row.by_itself), unknown


def _took(client, address: str) -> float:
    began = time.perf_counter()
    client.get(address)
    return time.perf_counter() - began


if __name__ == "__main__":
    raise SystemExit(main())
