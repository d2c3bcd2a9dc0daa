"""How many of so many malformed inputs end in a server error; on the made-up shop, in a database of its own.

.venv/bin/python -m bench.malformed_input 10000 --seed 1
"""

import argparse
import gc
import logging
import os
import re
import sys
import tempfile
import time
from collections import Counter
from pathlib import Path


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("number", type=int, nargs="?", default=10_000)
    parser.add_argument("--seed", type=int, default=1)
    asked = parser.parse_args()
    os.environ["FRIMBLE_VAR"] = tempfile.mkdtemp(prefix="frimble-malformed-")
    os.environ["DJANGO_SETTINGS_MODULE"] = "frimble.config.settings"
    import django

    django.setup()
    from django.conf import settings
    from django.core.management import call_command
    from django.test import Client
    from django.utils import timezone

    from frimble.demo import loader
    from frimble.people.models import Person
    from frimble.testing.browser.pages import every_page
    from frimble.testing.malformed import Malformed

    settings.ALLOWED_HOSTS = ["testserver"]
    for name in ("", "frimble"):
        logging.getLogger(name).handlers = [logging.NullHandler()]
    call_command("migrate", verbosity=0)
    loader.load(timezone.now())
    client = Client(raise_request_exception=False)
    client.force_login(Person.objects.get(username="odile"))
    pages = {path: answer.content.decode() for path in every_page().values() if _is_page(answer := client.get(path))}
    faults, statuses, began = Counter(), Counter(), time.perf_counter()
    for one in Malformed(pages, asked.seed).some(asked.number):
        client.force_login(Person.objects.get(username="odile"))
        answer = ask(client, one)
        statuses[answer.status_code] += 1
        if answer.status_code >= 500:
            kind = answer.exc_info[0].__name__ if answer.exc_info else "answered"
            faults[f"{kind} at {one.method} {getattr(answer.resolver_match, 'view_name', '?')}"] += 1
            print(f"{kind}: {one}", file=sys.stderr)
    print(f"{asked.number} inputs in {time.perf_counter() - began:.0f} s: {dict(sorted(statuses.items()))}")
    for fault, number in faults.most_common():
        print(f"  {number} × {fault}")
    gc.collect()
    print(f"The process holds {at_rest_mb():.0f} MB at rest.")
    return 1 if faults else 0


def _is_page(answer) -> bool:
    return answer.status_code == 200 and answer["Content-Type"].startswith("text/html")


def at_rest_mb() -> float:
    """Memory of this process that is in use, MB. Source: proc(5), VmRSS."""
    status = Path("/proc/self/status").read_text()
    return int(re.search(r"VmRSS:\s+(\d+) kB", status)[1]) / 1024


def ask(client, one):
    """Send one of them."""
    if one.content_type:
        return client.generic(one.method, one.path, one.data, content_type=one.content_type)
    return getattr(client, one.method.lower())(one.path, one.data)


if __name__ == "__main__":
    sys.exit(main())
