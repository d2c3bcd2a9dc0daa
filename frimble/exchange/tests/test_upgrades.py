"""What an earlier version kept is read by this one: its database and its data package, equal row by row."""

import csv
import gzip
import io
import json
import os
import sqlite3
import subprocess
import sys
import tempfile
import unittest
import zipfile
from contextlib import closing
from pathlib import Path

from django.conf import settings
from django.db import connection
from django.test import TestCase

from frimble.core.conclusions import InvalidInput
from frimble.exchange.packages import reading, upgrades, writing
from frimble.people.models import HouseSetting
from frimble.screens.models import Screen

FIXTURES = Path(__file__).parent / "fixtures"
OLD = FIXTURES / "package-1.zip"


def rows_of(archive, path):
    """(headings, rows) of one table of a writing."""
    headings, *rows = csv.reader(io.StringIO(archive.read(path).decode()))
    return headings, rows


def as_today(archive) -> dict[str, tuple[list[str], list[list[str]]]]:
    """Every table of the old package with today's names, columns in order of their names."""
    tables = {}
    for model in writing.tables():
        table = model._meta.label_lower
        if upgrades.is_new_since(1, table):
            continue
        headings, rows = rows_of(archive, f"data/{upgrades.name_in(1, table)}.csv")
        headings, rows = upgrades.upgraded(1, table, headings, rows)
        tables[table] = sorted_by_column(headings, rows)
    return tables


def sorted_by_column(headings, rows):
    order = sorted(range(len(headings)), key=headings.__getitem__)
    return [headings[k] for k in order], [[row[k] for k in order] for row in rows]


class PackageTests(TestCase):
    maxDiff = 2000

    def test_a_package_of_the_version_before_is_read_whole(self):
        with OLD.open("rb") as file:
            counted = reading.read_package(file)
        # Source: what the old program itself wrote.
        with zipfile.ZipFile(OLD) as archive:
            expected = as_today(archive)
        out = io.BytesIO()
        writing.write_package(out)
        with zipfile.ZipFile(out) as archive:
            for table, old in expected.items():
                with self.subTest(table):
                    self.assertEqual(sorted_by_column(*rows_of(archive, f"data/{table}.csv")), old)
        self.assertEqual(counted["screens.Screen"], Screen.objects.count())
        self.assertGreater(min(counted.values()), 0, "the old package holds a row of every table")

    def test_a_setting_the_shop_changed_goes_on_under_its_new_key(self):
        renamed = upgrades.UPGRADES[1].values["people.housesetting", "key"]
        _, rows = upgrades.upgraded(1, "people.housesetting", ["key", "value"], [[old, "80"] for old in renamed])
        self.assertEqual([row[0] for row in rows], list(renamed.values()))
        self.assertFalse(HouseSetting.objects.exists())

    def test_a_package_of_a_later_version_is_refused(self):
        file = io.BytesIO()
        with zipfile.ZipFile(file, "w") as archive:
            archive.writestr("datapackage.json", json.dumps({"resources": [], "schema_version": upgrades.CURRENT + 1}))
        with self.assertRaisesRegex(InvalidInput, f"reads up to {upgrades.CURRENT}"):
            reading.read_package(file)

    def test_every_name_of_a_step_leads_to_a_table_and_a_column_of_today(self):
        labels = {m._meta.label_lower: {f.attname for f in m._meta.concrete_fields} for m in writing.tables()}
        for step in upgrades.UPGRADES.values():
            self.assertLessEqual({*step.tables.values(), *step.new}, set(labels))
            for table, renamed in step.columns.items():
                self.assertLessEqual(set(renamed.values()), labels[table])
            for table, added in step.added.items():
                self.assertLessEqual(set(added), labels[table])


def shape_of(database) -> dict[str, set]:
    """Columns and indexes of every table, in no order."""
    with closing(sqlite3.connect(database)) as opened:
        names = [name for (name,) in opened.execute("select name from sqlite_master where type = 'table'")]
        return {name: {*_columns(opened, name), *_indexes(opened, name)} for name in names}


def _columns(opened, table) -> list[tuple]:
    told = opened.execute(f"pragma table_info({table})")
    return [(name, kind, bool(required), bool(key)) for _, name, kind, required, _, key in told]


def _indexes(opened, table) -> list[tuple]:
    told = opened.execute(f"pragma index_list({table})").fetchall()
    parts = [[name for _, _, name in opened.execute(f"pragma index_info({index})")] for _, index, *_ in told]
    return [(bool(unique), *part) for (_, _, unique, *_), part in zip(told, parts, strict=True)]


@unittest.skipUnless(connection.vendor == "sqlite", "what is held against each other are files")
class DatabaseTests(TestCase):
    def test_a_database_of_the_version_before_migrates_without_losing_a_row(self):
        with tempfile.TemporaryDirectory() as var:
            (Path(var) / "frimble.sqlite3").write_bytes(
                gzip.decompress((FIXTURES / "database-1.sqlite3.gz").read_bytes())
            )
            self.manage(var, "migrate", "--verbosity", "0")
            written = Path(var) / "shop.zip"
            self.manage(
                var,
                "shell",
                "--no-imports",
                "-c",
                f"from frimble.exchange.packages.writing import write_package; write_package(open({str(written)!r}, 'wb'))",
            )
            with zipfile.ZipFile(OLD) as old, zipfile.ZipFile(written) as new:
                # Source: what the old program itself wrote of the same database.
                for table, expected in as_today(old).items():
                    with self.subTest(table):
                        self.assertEqual(sorted_by_column(*rows_of(new, f"data/{table}.csv")), expected)
            # Source: the tables that Django makes of today's models at once.
            migrated = shape_of(Path(var) / "frimble.sqlite3")
            for table, made in shape_of(connection.settings_dict["NAME"]).items():
                with self.subTest(table):
                    self.assertEqual(migrated.get(table), made)

    def manage(self, var, *arguments):
        """In a process of its own, on the data folder `var`."""
        environment = {k: v for k, v in os.environ.items() if k != "DATABASE_URL"} | {"FRIMBLE_VAR": var}
        command = [sys.executable, str(settings.BASE_DIR / "manage.py"), *arguments]
        done = subprocess.run(  # noqa: S603 - own command on made-up data
            command, env=environment, capture_output=True, text=True
        )
        self.assertEqual(done.returncode, 0, done.stderr[-2000:])
