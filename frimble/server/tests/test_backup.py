"""A backup while somebody writes, its check, its restore, and which ones stay."""

import json
import sqlite3
import tempfile
from contextlib import closing
from datetime import datetime, timedelta
from pathlib import Path
from unittest import mock

from django.conf import settings
from django.core.management import CommandError, call_command
from django.test import SimpleTestCase, TestCase, override_settings

from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.people.models import HouseSetting, Person
from frimble.server import lock
from frimble.server.backups import keeping, timer
from frimble.server.backups.checking import check
from frimble.server.backups.making import back_up
from frimble.server.backups.manifest import DATABASE, MANIFEST
from frimble.server.backups.restoring import restore

_KNOWN = {"people.0001_initial", "people.0002_names"}


class BackupCase(SimpleTestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.database, self.media = self.folder / "shop.sqlite3", self.folder / "media"
        (self.media / "scans").mkdir(parents=True)
        (self.media / "unpacked").mkdir()
        (self.media / "scans" / "one").write_bytes(b"scan")
        (self.media / "unpacked" / "one").write_bytes(b"made again when wanted")
        with closing(sqlite3.connect(self.database)) as shop:
            shop.execute("PRAGMA journal_mode = WAL")
            shop.execute("CREATE TABLE django_migrations (app TEXT, name TEXT)")
            shop.executemany("INSERT INTO django_migrations VALUES (?, ?)", [n.split(".") for n in sorted(_KNOWN)])
            shop.execute("CREATE TABLE people_person (id INTEGER PRIMARY KEY)")
            shop.execute("CREATE TABLE event (id INTEGER PRIMARY KEY, words TEXT)")
            shop.executemany("INSERT INTO event (words) VALUES (?)", [("first",), ("second",)])
            shop.commit()

    def words(self, path=None):
        with closing(sqlite3.connect(path or self.database)) as shop:
            return [w for (w,) in shop.execute("SELECT words FROM event ORDER BY id")]

    def made(self, name="b1", **named):
        back_up(self.database, self.media, self.folder / name, **named)
        return self.folder / name

    def put_back(self, folder, known=_KNOWN, **named):
        return restore(folder, self.database, self.media, self.folder / "aside", known, **named)


class MakingTests(BackupCase):
    def test_what_is_not_committed_is_not_in_it(self):
        with closing(sqlite3.connect(self.database, isolation_level=None)) as writer:
            writer.execute("BEGIN IMMEDIATE")
            writer.execute("INSERT INTO event (words) VALUES ('half-written')")
            folder = self.made()
            writer.execute("COMMIT")
        self.assertEqual(check(folder).rows["event"], 2)
        self.assertEqual(self.words(folder / DATABASE), ["first", "second"])
        self.assertEqual(len(self.words()), 3)

    def test_caches_are_not_in_it_and_like_files_are_kept_once(self):
        store = self.folder / "files"
        (self.media / "scans" / "copy").write_bytes(b"scan")
        first, second = self.made("b1", store=store), self.made("b2", store=store)
        self.assertEqual(set(check(first).files), {"scans/one", "scans/copy"})
        self.assertEqual(check(first).files, check(second).files)
        self.assertEqual(len([p for p in store.rglob("*") if p.is_file()]), 1)

    def test_it_is_never_written_over_and_nothing_half_stays(self):
        folder = self.made()
        with self.assertRaisesMessage(InvalidInput, "exists already"):
            back_up(self.database, self.media, folder)
        with self.assertRaisesMessage(InvalidInput, "no database"):
            back_up(self.folder / "none", self.media, self.folder / "b2")
        with mock.patch("frimble.server.backups.making.contents", side_effect=OSError(28, "No space left")):
            self.assertRaises(OSError, back_up, self.database, self.media, self.folder / "b3")
        self.assertFalse((self.folder / "b2").exists() or (self.folder / "b3").exists())


class RestoringTests(BackupCase):
    def test_it_is_put_back_and_what_was_there_is_kept_aside(self):
        folder = self.made()
        with closing(sqlite3.connect(self.database)) as shop:
            shop.execute("INSERT INTO event (words) VALUES ('later')")
            shop.commit()
        (self.media / "scans" / "two").write_bytes(b"later scan")
        manifest, lacking = self.put_back(folder)
        self.assertEqual((manifest.rows["event"], lacking), (2, []))
        self.assertEqual(self.words(), ["first", "second"])
        self.assertEqual(sorted(p.name for p in (self.media / "scans").iterdir()), ["one"])
        self.assertEqual(self.words(self.folder / "aside" / DATABASE)[-1], "later")
        self.assertIn("scans/two", check(self.folder / "aside").files)

    def test_whatever_is_wrong_with_it_is_said_and_nothing_is_touched(self):
        def other_database(folder):
            with closing(sqlite3.connect(folder / DATABASE)) as shop:
                shop.execute("DELETE FROM event")
                shop.commit()

        def foreign(folder):
            (folder / DATABASE).unlink()
            with closing(sqlite3.connect(folder / DATABASE)) as shop:
                shop.execute("CREATE TABLE t (id INTEGER)")
                shop.commit()

        def altered_file(folder):
            (kept,) = [p for p in (folder / "files").rglob("*") if p.is_file()]
            kept.write_bytes(b"scam")

        def other_manifest(**said):
            def change(folder):
                path = folder / MANIFEST
                path.write_text(json.dumps(json.loads(path.read_text()) | said))

            return change

        wrongs = {
            "no manifest": ((lambda f: (f / MANIFEST).unlink()), "has no manifest.json"),
            "empty manifest": ((lambda f: (f / MANIFEST).write_text("")), "cannot be read"),
            "empty database": ((lambda f: (f / DATABASE).write_bytes(b"")), "altered or cut short"),
            "cut short": ((lambda f: (f / DATABASE).write_bytes((f / DATABASE).read_bytes()[:5000])), "cut short"),
            "rows deleted": (other_database, "altered or cut short"),
            "foreign": (foreign, "altered or cut short"),
            "lost": ((lambda f: (f / DATABASE).unlink()), "has lost its database"),
            "file altered": (altered_file, "missing or was altered"),
            "file outside": (other_manifest(files={"../../evil": "0" * 64}), "outside of its place"),
            "other kind": (other_manifest(format=9), "of kind 9"),
            "newer": (other_manifest(), "newer than this program"),
        }
        for number, (name, (spoil, words)) in enumerate(wrongs.items()):
            with self.subTest(name):
                folder = self.made(f"b{number}")
                spoil(folder)
                known = {"people.0001_initial"} if name == "newer" else _KNOWN
                with self.assertRaisesMessage(InvalidInput, words):
                    self.put_back(folder, known)
                self.assertEqual(self.words(), ["first", "second"])
                self.assertEqual((self.media / "scans" / "one").read_bytes(), b"scan")
                self.assertFalse((self.folder / "aside").exists())

    def test_an_older_one_is_taken_when_asked_for_and_says_what_it_lacks(self):
        folder, known = self.made(), {*_KNOWN, "people.0003_accounts"}
        with self.assertRaisesMessage(InvalidInput, "tables are older"):
            self.put_back(folder, known)
        self.assertEqual(self.put_back(folder, known, older=True)[1], ["people.0003_accounts"])

    def test_not_under_a_running_server(self):
        with lock.held(self.folder), self.assertRaisesMessage(RuleViolation, "stop it first"), lock.held(self.folder):
            self.fail("two held one lock")
        with (
            override_settings(VAR_DIR=self.folder),
            lock.held(self.folder),
            self.assertRaisesMessage(CommandError, "A server runs"),
        ):
            call_command("restore", str(self.made()))


class KeepingTests(SimpleTestCase):
    def test_hours_days_and_weeks_each_keep_their_newest(self):
        # Source: worked by hand: 60 days of a backup each hour, kept 24 hourly, 14 daily, 8 weekly.
        end = datetime(2026, 3, 1, 18, 30)
        moments = [end - timedelta(hours=n) for n in range(60 * 24)]
        stay = keeping.to_keep(moments, 24, 14, 8)
        self.assertTrue({end - timedelta(hours=n) for n in range(24)} <= stay)
        self.assertIn(datetime(2026, 2, 20, 23, 30), stay)
        self.assertNotIn(datetime(2026, 2, 20, 22, 30), stay)
        # The Sundays that end the weeks before: 22 February, 15 February, …
        self.assertIn(datetime(2026, 1, 25, 23, 30), stay)
        self.assertEqual(len(stay), 24 + 12 + 6)
        self.assertEqual(keeping.to_keep([end], 0, 0, 0), {end})


class TimerTests(TestCase):
    """With the real tables, so that the settings can be read."""

    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.odile = Person.objects.create_user("odile", role="lead")
        held = override_settings(VAR_DIR=self.folder, MEDIA_ROOT=self.folder / "media")
        held.enable()
        self.addCleanup(held.disable)

    def say(self, key, value):
        when = datetime.now().astimezone()
        HouseSetting.objects.create(key=key, value=value, reason="x", changed_by=self.odile, changed_at=when)

    def make(self, now):
        """What the test wrote is not committed: the copy holds the tables alone."""
        return timer.make(now)

    def test_it_is_due_by_the_clock_and_thinned_out_with_a_copy_on_another_disk(self):
        second = self.folder / "other disk"
        self.say("backup.second_folder", str(second))
        for span in ("hourly", "daily"):
            self.say(f"backup.keep_{span}", "1")
        self.say("backup.keep_weekly", "0")
        now = datetime(2026, 11, 29, 12, 0)
        (settings.MEDIA_ROOT).mkdir()
        (settings.MEDIA_ROOT / "a").write_bytes(b"scan")
        self.assertTrue(timer.is_due(now))
        self.make(now)
        self.assertFalse(timer.is_due(now + timedelta(minutes=59)))
        self.assertTrue(timer.is_due(now + timedelta(minutes=60)))
        self.assertEqual(timer.state(now + timedelta(hours=4))[1], True)
        (settings.MEDIA_ROOT / "a").write_bytes(b"another")
        self.make(now + timedelta(hours=1))
        for root in (timer.root(), second):
            (kept,) = keeping.found(root)
            self.assertEqual(kept.made_at.hour, 13)
            self.assertEqual(len([p for p in (root / "files").rglob("*") if p.is_file()]), 1)
            check(kept.folder)

    def test_the_page_makes_one_and_says_why_when_it_cannot(self):
        self.client.force_login(self.odile)
        self.assertContains(self.client.get("/server/"), "None yet")
        self.assertContains(self.client.post("/server/", follow=True), "A backup was made and looked through")
        self.assertContains(self.client.get("/server/"), "The last good one is of")
        with mock.patch("frimble.server.backups.making.sha256", side_effect=OSError(28, "No space left on device")):
            later = datetime.now() + timedelta(seconds=2)
            with mock.patch("frimble.server.room.views.datetime", mock.Mock(now=lambda: later)):
                self.assertContains(self.client.post("/server/", follow=True), "No backup was made: No space left")

    def test_an_overdue_one_stands_on_today(self):
        self.client.force_login(self.odile)
        self.assertContains(self.client.get("/"), 'href="/server/"')
        self.make(datetime.now() - timedelta(hours=9))
        self.assertContains(self.client.get("/"), "It is overdue: see the log.")
