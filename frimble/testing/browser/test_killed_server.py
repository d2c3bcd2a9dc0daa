"""A server killed in the middle of an exposure: nothing acknowledged is lost, the timer goes on."""

import os
import shutil
import sqlite3
import subprocess
import sys
import tempfile
from pathlib import Path

from django.conf import settings
from django.contrib.auth.hashers import PBKDF2PasswordHasher, make_password
from django.test import TransactionTestCase

from frimble.demo.loader import password_of
from frimble.people.models import Person
from frimble.testing.browser.base import Hands
from frimble.testing.browser.test_every_page import make_pages
from frimble.testing.kept import copy_database, kept_database
from frimble.testing.processes import free_port, wait_until_up


class KilledServerCase(Hands, TransactionTestCase):
    """The real server on a copy of the made-up shop, in a process that a test may kill."""

    def setUp(self):
        self.folder = Path(tempfile.mkdtemp(prefix="frimble-killed-"))
        self.addCleanup(shutil.rmtree, self.folder, True)
        self.environment = os.environ | {"FRIMBLE_VAR": str(self.folder)}
        self.environment.pop("DATABASE_URL", None)
        kept_database("every page", make_pages)
        # As the real server hashes it.
        hashed = make_password(password_of("tamsin"), hasher=PBKDF2PasswordHasher())
        Person.objects.filter(username="tamsin").update(password=hashed)
        copy_database(self.folder / "frimble.sqlite3")
        self.port = free_port()
        self.base = f"http://127.0.0.1:{self.port}"
        self.server = self.serve()
        self.take_browser()

    def manage(self, *arguments):
        return subprocess.run(
            [sys.executable, "manage.py", *arguments],
            cwd=settings.BASE_DIR,
            env=self.environment,
            check=True,
            capture_output=True,
            text=True,
        )

    def serve(self):
        process = subprocess.Popen(
            [sys.executable, "manage.py", "serve", "--port", str(self.port)],
            cwd=settings.BASE_DIR,
            env=self.environment,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        self.addCleanup(process.kill)
        wait_until_up(process, self.port)
        return process


class KilledServerTests(KilledServerCase):
    def stored_taps(self):
        with sqlite3.connect(self.folder / "frimble.sqlite3") as database:
            return [row[0] for row in database.execute("select kind from exposures_tap order by at")]

    def test_the_exposure_goes_on_through_a_kill(self):
        self.sign_in("tamsin")
        self.go("/expose/Q-011/")
        self.choose("Dry: no tack")
        self.press("Go to the timer")
        self.sees("One exposure")
        self.key("t")
        self.wait(lambda: self.stored_taps() == ["start"])
        before = self.driver.find_element("class name", "count").text
        self.server.kill()
        self.server.wait()
        self.assertEqual(self.stored_taps(), ["start"])
        self.wait(lambda: self.driver.find_element("class name", "count").text != before)
        self.key("t")
        self.sees("No network: 1 tap is kept here")
        self.server = self.serve()
        self.sees("Recorded.")
        self.assertEqual(self.stored_taps(), ["start", "stop"])
        self.go("/screens/Q-011/")
        self.sees("Exposed ")
        self.assertIn("0 differences", self.manage("verify").stdout)

    def test_last_seen_pages_open_without_a_server_and_say_so(self):
        self.sign_in("tamsin")
        self.wait(lambda: self.driver.execute_script("return Boolean(navigator.serviceWorker.controller)"))
        for path in ("/", "/screens/Q-011/", "/expose/chart/"):
            self.go(path)
        self.server.kill()
        self.server.wait()
        for path, words in (("/", "Next for you"), ("/screens/Q-011/", "Q-011"), ("/expose/chart/", "Exposure chart")):
            self.go(path)
            self.sees("Offline: this page is as it was on")
            self.sees(words)
        # Drawn with its own styles, and nothing that would be lost can be sent.
        self.assertNotEqual(self.driver.execute_script("return getComputedStyle(document.body).fontFamily"), "Times")
        self.go("/screens/Q-014/")
        self.sees("This page was not seen on this device before.")
        self.server = self.serve()
        self.go("/")
        self.sees("Next for you")
        self.assertNotIn("Offline", self.text())
        self.sign_out()
        self.server.kill()
        self.server.wait()
        self.go("/")
        self.sees("This page was not seen on this device before.")
