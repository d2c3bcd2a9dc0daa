"""The commands that copy the shop and put a copy back, as they are typed; and where the log is written."""

import io
import logging
import sqlite3
import tempfile
from contextlib import closing
from pathlib import Path
from unittest import mock

from django.conf import settings
from django.core.management import CommandError, call_command
from django.db.migrations.loader import MigrationLoader
from django.test import SimpleTestCase, override_settings

from frimble.config.logfile import rotating


class CopyTests(SimpleTestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.shop, media = self.folder / "shop.sqlite3", self.folder / "media"
        media.mkdir()
        self.write("first")
        database = {"default": settings.DATABASES["default"] | {"NAME": str(self.shop)}}
        here = override_settings(DATABASES=database, MEDIA_ROOT=str(media), VAR_DIR=self.folder)
        here.enable()
        self.addCleanup(here.disable)
        # Another test's connection is not ours to close.
        closed = mock.patch("frimble.server.management.commands.restore.connections")
        closed.start()
        self.addCleanup(closed.stop)

    def write(self, words):
        with closing(sqlite3.connect(self.shop)) as shop:
            shop.execute("CREATE TABLE IF NOT EXISTS event (words TEXT)")
            shop.execute("CREATE TABLE IF NOT EXISTS people_person (id INTEGER)")
            if not shop.execute("SELECT name FROM sqlite_master WHERE name = 'django_migrations'").fetchone():
                shop.execute("CREATE TABLE django_migrations (app TEXT, name TEXT)")
                known = MigrationLoader(None, ignore_no_migrations=True).disk_migrations
                shop.executemany("INSERT INTO django_migrations VALUES (?, ?)", known)
            shop.execute("INSERT INTO event VALUES (?)", (words,))
            shop.commit()

    def words(self):
        with closing(sqlite3.connect(self.shop)) as shop:
            return [w for (w,) in shop.execute("SELECT words FROM event")]

    def run_command(self, *asked):
        said = io.StringIO()
        call_command(*asked, stdout=said)
        return said.getvalue()

    def test_a_copy_is_made_under_the_moment_and_checked(self):
        said = self.run_command("backup")
        (made,) = (self.folder / "backups").iterdir()
        self.assertRegex(said, rf"^\d+ records and 0 files in {made}, checked.")

    def test_what_came_after_the_copy_goes_and_is_kept_aside(self):
        self.run_command("backup", str(self.folder / "copy"))
        self.write("later")
        said = self.run_command("restore", str(self.folder / "copy"))
        self.assertEqual(self.words(), ["first"])
        (aside,) = (self.folder / "backups").glob("*-before-restore")
        self.assertIn(str(aside), said)

    def test_a_folder_that_is_there_or_no_copy_at_all_is_refused_in_words(self):
        (self.folder / "full").mkdir()
        (self.folder / "full" / "something").write_text("x")
        with self.assertRaises(CommandError) as there:
            self.run_command("backup", str(self.folder / "full"))
        self.assertIn("full", str(there.exception))
        with self.assertRaises(CommandError):
            self.run_command("restore", str(self.folder / "nowhere"))
        self.assertEqual(self.words(), ["first"])


class LogFileTests(SimpleTestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "log" / "frimble.log"

    def test_a_file_begins_with_its_first_line(self):
        handler = rotating(self.path)
        self.addCleanup(handler.close)
        self.assertFalse(self.path.exists())
        handler.emit(logging.makeLogRecord({"msg": "who=tamsin what=screens:step/degrease"}))
        self.assertIn("who=tamsin", self.path.read_text())

    def test_it_is_turned_over_before_it_grows_large_and_few_are_kept(self):
        handler = rotating(self.path)
        self.addCleanup(handler.close)
        handler.maxBytes = 200
        for number in range(60):
            handler.emit(logging.makeLogRecord({"msg": f"line {number} of a long day at the booth"}))
        kept = sorted(self.path.parent.iterdir())
        self.assertEqual(len(kept), handler.backupCount + 1)
        self.assertTrue(all(p.stat().st_size <= 200 for p in kept))
        self.assertIn("line 59", self.path.read_text())
