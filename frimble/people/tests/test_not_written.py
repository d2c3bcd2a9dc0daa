"""A database that cannot be written to: who can mend that is let in, everybody else reads, and nothing is half written."""

from contextlib import contextmanager
from unittest import skipUnless

from django.db import connection

from frimble.people.accounts import services
from frimble.people.door.memory import MEMORY
from frimble.people.models import FailedTry, Person, Session
from frimble.people.tests.test_accounts import later
from frimble.screens.models import ScreenEvent
from frimble.testing.case import PageCase
from frimble.testing.shop import small_shop

_GOOD = "three quiet herons"


@contextmanager
def not_written():
    """Source: SQLite, PRAGMA query_only: every change ends as it does on a folder that may only be read."""
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA query_only = ON")
    try:
        yield
    finally:
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA query_only = OFF")


@skipUnless(connection.vendor == "sqlite", "the fault is SQLite's")
class NotWrittenTests(PageCase):
    def setUp(self):
        small_shop()
        Person.objects.create_user("perrin", password=_GOOD, role="lead")
        MEMORY.clear()
        self.addCleanup(MEMORY.clear)

    def attempt(self, password=_GOOD):
        return self.client.post("/people/sign-in/", {"username": "perrin", "password": password})

    def test_signing_in_works_and_pages_are_read(self):
        with not_written():
            self.assertRedirects(self.attempt(), "/", fetch_redirect_response=False)
            for page in ("/", "/screens/Q-014/", "/expose/chart/", "/people/"):
                self.assertEqual(self.client.get(page).status_code, 200)
        self.assertFalse(Session.objects.exists())

    def test_what_is_recorded_is_refused_in_words_and_stays_typed(self):
        with not_written():
            self.attempt()
            with self.assertLogs("frimble", "ERROR"):
                answer = self.client.post(
                    "/screens/Q-014/do/degrease/",
                    {"revision": 0, "dwell_s": "30", "look": "clean", "rinsed": "on", "note": "two passes"},
                )
        self.assertContains(answer, "may not be written to", status_code=503)
        self.assertContains(answer, "two passes", status_code=503)
        self.assertFalse(ScreenEvent.objects.filter(kind="degrease").exists())

    def test_the_session_is_written_once_there_is_room_and_signing_out_ends_it(self):
        with not_written():
            self.attempt()
        self.assertEqual(self.client.get("/").status_code, 200)
        with later(minutes=11):
            self.client.get("/")
        self.assertEqual(Session.objects.get().person.username, "perrin")
        self.client.post("/people/sign-out/")
        self.assertEqual(self.client.get("/").status_code, 302)

    def test_signed_out_everywhere_ends_what_memory_holds(self):
        with not_written():
            self.attempt()
            self.assertEqual(self.client.get("/").status_code, 200)
        services.sign_out_everywhere(Person.objects.get(username="perrin"))
        self.assertEqual(self.client.get("/").status_code, 302)

    def test_who_tries_in_vain_waits_all_the_same(self):
        with not_written():
            for _ in range(5):
                self.assertEqual(self.attempt("wrong").status_code, 200)
            self.assertEqual(self.attempt("wrong").status_code, 429)
        self.assertFalse(FailedTry.objects.exists())
