"""A backup while somebody writes, its check, and its restore."""

import sqlite3
import tempfile
from contextlib import closing
from pathlib import Path

from django.test import SimpleTestCase

from frimble.core.conclusions import InvalidInput
from frimble.server import backup


class BackupTests(SimpleTestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.database, self.media = self.folder / "shop.sqlite3", self.folder / "media"
        (self.media / "scans").mkdir(parents=True)
        (self.media / "scans" / "one").write_bytes(b"scan")
        with closing(sqlite3.connect(self.database)) as shop:
            shop.execute("PRAGMA journal_mode = WAL")
            shop.execute("CREATE TABLE event (id INTEGER PRIMARY KEY, words TEXT)")
            shop.executemany("INSERT INTO event (words) VALUES (?)", [("first",), ("second",)])
            shop.commit()

    def words(self, path=None):
        with closing(sqlite3.connect(path or self.database)) as shop:
            return [w for (w,) in shop.execute("SELECT words FROM event ORDER BY id")]

    def test_what_is_not_committed_is_not_in_it(self):
        with closing(sqlite3.connect(self.database, isolation_level=None)) as writer:
            writer.execute("BEGIN IMMEDIATE")
            writer.execute("INSERT INTO event (words) VALUES ('half-written')")
            result = backup.back_up(self.database, self.media, self.folder / "b1")
            writer.execute("COMMIT")
        self.assertEqual(result.rows, {"event": 2})
        self.assertEqual(self.words(self.folder / "b1" / backup.DATABASE), ["first", "second"])
        self.assertEqual(len(self.words()), 3)

    def test_it_is_put_back_and_what_was_there_is_kept_aside(self):
        backup.back_up(self.database, self.media, self.folder / "b1")
        with closing(sqlite3.connect(self.database)) as shop:
            shop.execute("INSERT INTO event (words) VALUES ('later')")
            shop.commit()
        (self.media / "scans" / "two").write_bytes(b"later scan")
        result = backup.restore(self.folder / "b1", self.database, self.media, self.folder / "aside")
        self.assertEqual(result.records, 2)
        self.assertEqual(self.words(), ["first", "second"])
        self.assertEqual(sorted(p.name for p in (self.media / "scans").iterdir()), ["one"])
        self.assertEqual(self.words(self.folder / "aside" / backup.DATABASE)[-1], "later")
        self.assertTrue((self.folder / "aside" / backup.FILES).is_file())

    def test_damage_is_seen_before_anything_is_touched(self):
        backup.back_up(self.database, self.media, self.folder / "b1")
        copy = self.folder / "b1" / backup.DATABASE
        copy.write_bytes(b"not a database" * 400)
        with self.assertRaisesMessage(InvalidInput, "cannot be read"):
            backup.restore(self.folder / "b1", self.database, self.media, self.folder / "aside")
        self.assertEqual(self.words(), ["first", "second"])
        self.assertFalse((self.folder / "aside").exists())

    def test_a_backup_is_never_written_over(self):
        backup.back_up(self.database, self.media, self.folder / "b1")
        with self.assertRaisesMessage(InvalidInput, "exists already"):
            backup.back_up(self.database, self.media, self.folder / "b1")
        with self.assertRaisesMessage(InvalidInput, "no database"):
            backup.back_up(self.folder / "none", self.media, self.folder / "b2")
        self.assertFalse((self.folder / "b2").exists())
