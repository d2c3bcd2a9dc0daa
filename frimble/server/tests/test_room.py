"""The room's page, the clock that makes backups, trust of a device, and the upgrade from an earlier version."""

import io
import sqlite3
import time
from contextlib import closing
from datetime import datetime, timedelta
from pathlib import Path
from unittest import mock

from django.conf import settings
from django.core.management import CommandError, call_command
from django.test import SimpleTestCase, TestCase, override_settings
from django.utils import timezone

from frimble.core.conclusions import InvalidInput
from frimble.people.models import Person
from frimble.server import health, lock
from frimble.server.backups import keeping, timer
from frimble.server.backups.manifest import DATABASE, FORMAT, Manifest, contents, sha256
from frimble.server.https.authority import server_certificate
from frimble.server.room import presenters
from frimble.testing.case import own_data_folder


class FactTests(TestCase):
    def setUp(self):
        self.folder = own_data_folder(self)
        self.odile = Person.objects.create_user("odile", role="lead")

    def fact(self, name):
        return next(fact for fact in presenters.facts() if fact.name == name)

    def test_a_disk_that_fills_is_due_before_records_stop(self):
        for free, due in ((200 * 2**30, False), (2**30 + 1, False), (2**30 - 1, True)):
            with mock.patch("frimble.server.room.presenters.shutil.disk_usage", return_value=mock.Mock(free=free)):
                self.assertEqual(self.fact("Disk").due, due, free)

    def test_a_worker_that_ended_is_due(self):
        self.addCleanup(setattr, health, "worker", None)
        for worker, due, words in (
            (None, False, "Not watched here"),
            (mock.Mock(alive=True), False, "Runs"),
            (mock.Mock(alive=False), True, "Has ended"),
        ):
            health.worker = worker
            self.assertEqual(self.fact("Worker").due, due)
            self.assertIn(words, self.fact("Worker").words)

    def test_a_new_room_is_given_time_for_its_first_backup(self):
        self.assertIsNone(presenters.overdue())
        Person.objects.update(date_joined=timezone.now() - timedelta(hours=4))
        self.assertIn("None yet", presenters.overdue().words)

    def test_no_backup_by_the_clock_is_never_overdue(self):
        Person.objects.update(date_joined=timezone.now() - timedelta(days=400))
        with mock.patch("frimble.server.backups.timer.house_settings.current", return_value={"backup.every_h": 0}):
            self.assertIsNone(presenters.overdue())
            self.assertFalse(timer.is_due(datetime.now()))

    def test_a_database_that_is_no_file_is_not_asked_since_when_the_room_is(self):
        began = mock.patch("frimble.server.backups.timer._began")
        with began as asked, mock.patch("frimble.server.backups.timer.is_possible", return_value=False):
            self.assertEqual(timer.state(datetime.now()), (None, False))
        asked.assert_not_called()

    def test_only_leads_make_one_and_others_see_no_button(self):
        tamsin = Person.objects.create_user("tamsin")
        self.client.force_login(tamsin)
        self.assertNotContains(self.client.get("/server/"), "Back up now")
        self.assertEqual(self.client.post("/server/").status_code, 403)
        self.assertEqual(keeping.found(timer.root()), [])


class ClockTests(SimpleTestCase):
    """The thread beside the server."""

    def run_until(self, wanted, due=True, make=None):
        made = mock.Mock(side_effect=make)
        with (
            mock.patch("frimble.server.backups.timer._LOOK_EVERY_S", 0.01),
            mock.patch("frimble.server.backups.timer.is_due", return_value=due),
            mock.patch("frimble.server.backups.timer.make", made),
            mock.patch("frimble.server.backups.timer.connections"),
        ):
            clock = timer.BackupTimer()
            clock.start()
            for _ in range(300):
                if made.call_count >= wanted:
                    break
                time.sleep(0.01)
            clock.stop()
            clock._thread.join(5)
        self.assertFalse(clock._thread.is_alive())
        return made.call_count

    def test_a_backup_that_fails_is_told_to_the_log_and_tried_again(self):
        with self.assertLogs("frimble.server.backups.timer", "ERROR") as told:
            count = self.run_until(3, make=OSError(28, "No space left on device"))
        self.assertGreaterEqual(count, 3)
        self.assertIn("A backup failed.", told.output[0])
        self.assertIn("No space left", told.output[0])

    def test_none_is_made_while_none_is_due(self):
        self.assertEqual(self.run_until(0, due=False), 0)


class ManifestTests(SimpleTestCase):
    def setUp(self):
        self.folder = own_data_folder(self)

    def test_what_it_says_comes_back_equal(self):
        said = Manifest(
            FORMAT, "1.0", "2026-11-29T12:00:00+00:00", ["people.0001"], {"t": 3, "u": 4}, "d", "files", {"a/b": "e"}
        )
        said.write(self.folder)
        self.assertEqual(Manifest.read(self.folder), said)
        self.assertEqual(said.records, 7)
        self.assertEqual([p.name for p in self.folder.iterdir()], ["manifest.json"])

    def test_other_json_is_none(self):
        for text in ("[]", "null", '{"format": 1}', "{", '{"format": 1, "more": 2}'):
            (self.folder / "manifest.json").write_text(text)
            with self.subTest(text), self.assertRaisesMessage(InvalidInput, "cannot be read"):
                Manifest.read(self.folder)

    def test_the_digest_is_the_standards(self):
        # Source: FIPS 180-2, appendix B.1: SHA-256 of "abc".
        (self.folder / "abc").write_bytes(b"abc")
        expected = "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad"
        self.assertEqual(sha256(self.folder / "abc"), expected)

    def test_a_row_that_points_nowhere_is_damage(self):
        path = self.folder / DATABASE
        with closing(sqlite3.connect(path)) as made:
            made.execute("CREATE TABLE django_migrations (app TEXT, name TEXT)")
            made.execute("CREATE TABLE people_person (id INTEGER PRIMARY KEY)")
            made.execute("CREATE TABLE held (person INTEGER REFERENCES people_person (id))")
            made.commit()
            self.assertEqual(contents(path)[1]["held"], 0)
            made.execute("INSERT INTO held VALUES (7)")
            made.commit()
        with self.assertRaisesMessage(InvalidInput, "is damaged"):
            contents(path)


class KeptTests(SimpleTestCase):
    def test_only_what_no_backup_names_goes(self):
        root = own_data_folder(self)
        for day, files in ((1, {"a": "aa11"}), (2, {"a": "aa11", "b": "bb22"})):
            folder = root / f"2026-11-0{day}-120000"
            folder.mkdir()
            Manifest(FORMAT, "1", "x", [], {}, "d", "../files", files).write(folder)
        for digest in ("aa11", "bb22", "cc33"):
            (root / "files" / digest[:2]).mkdir(parents=True)
            (root / "files" / digest[:2] / digest).write_text("x")
        (root / "2026-11-03-120000").mkdir()  # broken off: no manifest
        backups = keeping.found(root)
        self.assertEqual([kept.made_at.day for kept in backups], [2, 1])
        self.assertEqual([p.name for p in keeping.unnamed(root / "files", backups)], ["cc33"])
        self.assertEqual({p.name for p in keeping.unnamed(root / "files", backups[1:])}, {"bb22", "cc33"})


class TrustTests(TestCase):
    def test_a_device_fetches_the_authority_and_sees_what_to_compare(self):
        folder = own_data_folder(self)
        self.assertEqual(self.client.get("/trust/").status_code, 404)
        server_certificate(folder / "https", ["room.local"])
        page = self.client.get("/trust/")
        self.assertContains(page, "Trust this server")
        self.assertContains(page, "<svg")
        # Source: RFC 7468: a certificate as text; fingerprints are shown as 32 pairs of digits.
        self.assertRegex(page.content.decode(), r"([0-9A-F]{2}:){31}[0-9A-F]{2}")
        file = self.client.get("/trust/authority.crt")
        self.assertTrue(file.content.startswith(b"-----BEGIN CERTIFICATE-----"))
        self.assertNotIn(b"PRIVATE", file.content)

    def test_the_worker_stands_at_the_top_and_is_no_secret(self):
        answer = self.client.get("/worker.js")
        self.assertEqual(answer["Content-Type"], "text/javascript")
        # Source: W3C, Service Workers: its scope is the folder it is served from.
        self.assertIn('addEventListener("fetch"', answer.content.decode())
        self.assertIn("worker-src 'self'", answer["Content-Security-Policy"])


class UpgradeTests(TestCase):
    def test_it_backs_up_migrates_and_verifies_in_that_order(self):
        own_data_folder(self)
        here, done = "frimble.server.management.commands.upgrade", []
        with mock.patch(f"{here}.call_command", side_effect=lambda name, *args, **kwargs: done.append(name)):
            said = io.StringIO()
            call_command("upgrade", stdout=said)
        self.assertEqual(done, ["backup", "migrate", "verify"])
        self.assertIn("before-upgrade", said.getvalue())

    def test_not_under_a_running_server(self):
        own_data_folder(self)
        with lock.held(Path(settings.VAR_DIR)), self.assertRaisesMessage(CommandError, "stop it first"):
            call_command("upgrade", stdout=io.StringIO())

    @override_settings(DEBUG=False)
    def test_another_database_is_told_to_use_its_own_tools(self):
        own_data_folder(self)
        with mock.patch("frimble.server.backups.timer.is_possible", return_value=False):
            for command in (["backup"], ["restore", "somewhere"]):
                with self.subTest(command), self.assertRaisesMessage(CommandError, "its own tools"):
                    call_command(*command, stdout=io.StringIO())
