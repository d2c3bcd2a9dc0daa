"""A package read beside the pages: in a process of its own first, then taken over at one stroke or not at all."""

import functools
import re
import shutil
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from django.conf import settings
from django.core.files.storage import default_storage
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import TransactionTestCase

from frimble.exchange.models import PackageReading
from frimble.exchange.packages import aside, services, writing
from frimble.exchange.tests.test_package import a_days_work, written, zipped
from frimble.jobs.models import Job, Photo
from frimble.people.models import Person
from frimble.screens.models import Frame, Screen, ScreenEvent
from frimble.testing.records import record
from frimble.testing.shop import small_shop


def tearDownModule():
    shutil.rmtree(made_in())
    made_in.cache_clear()
    read_by_a_process.cache_clear()


@functools.cache
def made_in() -> Path:
    """A folder for what the tests of this process share."""
    return Path(tempfile.mkdtemp())


@functools.cache
def package() -> dict[str, bytes]:
    """The small shop after a day's work, part by part."""
    a_days_work(small_shop())
    return written()


told: list[tuple[float, str]] = []


@functools.cache
def read_by_a_process() -> Path:
    """The folder of the shop that a process of its own read the package into; its steps are in `told`."""
    folder = made_in() / "shop"
    folder.mkdir()
    zipped_to = made_in() / "shop.zip"
    zipped_to.write_bytes(zipped(package()).getvalue())
    aside._read_in_own_process(folder, zipped_to, lambda share, doing: told.append((share, doing)))
    return folder


def laid_ready(folder: Path, zipped_at: Path, tell) -> None:
    """In the place of the process: what it made before."""
    shutil.copytree(read_by_a_process(), folder, dirs_exist_ok=True)


class ReadingInCase(TransactionTestCase):
    def setUp(self):
        self.parts = package()
        self.emptied()

    def emptied(self):
        for model in reversed(writing.tables()):
            model._base_manager.all()._raw_delete("default")
        for name in default_storage.listdir("")[0]:
            shutil.rmtree(default_storage.path(name))
        self.lead = Person.objects.create_user("new-lead", password="gate-hinge-latch", role="lead")
        self.client.force_login(self.lead)
        if connection.vendor == "sqlite":
            read_by_a_process()

    def bring(self, parts=None):
        file = SimpleUploadedFile("shop.zip", zipped(parts or self.parts).getvalue())
        answer = self.client.post("/exchange/", {"package": "1", "file": file})
        self.assertEqual(answer.status_code, 302, answer.content.decode()[-2000:])
        return PackageReading.objects.get(), answer["Location"]

    def ends(self, brought, state):
        services.read_in.func(brought.pk)
        brought.refresh_from_db()
        self.assertEqual(brought.state, state, brought.refusal)
        self.assertEqual(list(settings.VAR_DIR.glob("package-*")), [])

    def holds_nothing(self):
        self.assertFalse(Frame.objects.exists() or ScreenEvent.objects.exists() or Photo.objects.exists())
        self.assertEqual(Person.objects.get(), self.lead)


class ReadingInTests(ReadingInCase):
    def test_a_package_is_read_and_its_page_tells_whoever_brought_it(self):
        brought, page = self.bring()
        self.assertContains(self.client.get(page), "waiting for its turn")
        self.assertContains(self.client.get("/exchange/"), "A package is being")
        with mock.patch.object(aside, "_read_in_own_process", laid_ready):
            self.ends(brought, "done")
        after = written()
        people = "data/people.person.csv"
        after[people] = b"".join(line for line in after[people].splitlines(True) if b"new-lead" not in line)
        for name, data in self.parts.items():
            self.assertEqual(after[name], data, name)
        self.assertFalse(default_storage.exists(brought.file.name or "packages/shop.zip"))
        self.assertTrue(Person.objects.get(username="new-lead").check_password("gate-hinge-latch"))
        # Signed in no more, since the people have changed: its page is open to whoever knows its number.
        self.client.logout()
        self.assertContains(self.client.get(page), "records stand in it")
        self.assertTrue(self.client.get(f"{page}progress/").json()["ended"])
        record("Q-014", "degrease", Person.objects.get(username="tamsin"), summary="Goes on working")

    def test_every_bad_cell_is_told_on_its_page_and_nothing_is_kept(self):
        frames = "data/screens.frame.csv"
        parts = self.parts | {frames: self.parts[frames].replace(b"580.0", b"wide", 1).replace(b"aluminium", b"<b>")}
        brought, page = self.bring(parts)
        self.ends(brought, "refused")
        told = self.client.get(page)
        self.assertContains(told, "row 2, material: “&lt;b&gt;” is none of")
        self.assertContains(told, "<code>&lt;b&gt;</code>", count=self.parts[frames].count(b"aluminium"))
        self.assertContains(told, "<td>outer_width_mm</td>", count=1, html=True)
        self.assertContains(told, "is no finite number")
        self.assertEqual(default_storage.listdir("packages")[1], [])
        self.holds_nothing()

    def test_one_at_a_time_and_none_that_is_no_package(self):
        self.bring()
        file = SimpleUploadedFile("shop.zip", zipped(self.parts).getvalue())
        again = self.client.post("/exchange/", {"package": "1", "file": file})
        self.assertContains(again, "A package is being read already", status_code=422)
        none = self.client.post("/exchange/", {"package": "1"})
        self.assertContains(none, "Choose the package&#x27;s file.", status_code=422)
        wrong = self.client.post("/exchange/", {"package": "1", "file": SimpleUploadedFile("shop.zip", b"no zip")})
        self.assertContains(wrong, "That is not a data package", status_code=422)
        self.assertEqual(PackageReading.objects.count(), 1)


@unittest.skipUnless(connection.vendor == "sqlite", "PostgreSQL reads a package in one long transaction")
class AsideTests(ReadingInCase):
    def test_the_process_says_how_far_it_is(self):
        shares = [share for share, _ in told]
        self.assertEqual(shares, sorted(shares))
        self.assertLess(max(shares), 1)
        self.assertTrue(any(re.search(r"screens\.screenevent\.csv", doing) for _, doing in told))

    def test_whatever_breaks_the_taking_over_leaves_nothing_and_is_tried_again(self):
        brought, page = self.bring()
        whole = aside._copy

        def breaks(model):
            if model is ScreenEvent:
                raise OSError("the disk is full")
            return whole(model)

        with (
            mock.patch.object(aside, "_read_in_own_process", laid_ready),
            mock.patch.object(aside, "_copy", breaks),
            self.assertLogs("frimble.exchange.packages.services", "ERROR"),
        ):
            self.ends(brought, "failed")
        self.holds_nothing()
        self.assertEqual([f for f in Path(settings.MEDIA_ROOT).rglob("*") if f.is_file()], [Path(brought.file.path)])
        self.assertContains(self.client.get(page), "Nothing was read; try again")
        self.assertContains(self.client.get(page), f'action="{page}again/"')
        self.assertRedirects(self.client.post(f"{page}again/"), page)
        with mock.patch.object(aside, "_read_in_own_process", laid_ready):
            self.ends(brought, "done")
        self.assertTrue(Screen.objects.exists())
        self.client.force_login(Person.objects.get(username="new-lead"))
        self.assertContains(self.client.post(f"{page}again/", follow=True), "Only one that broke off")

    def test_a_shop_that_is_not_empty_any_more_keeps_what_it_has(self):
        brought, page = self.bring()
        Job.objects.create(number="J-900", name="Brought meanwhile")
        with mock.patch.object(aside, "_read_in_own_process", laid_ready):
            self.ends(brought, "refused")
        self.assertContains(self.client.get(page), "The shop is not empty: jobs are there")
        self.assertEqual((Job.objects.get().number, Frame.objects.count()), ("J-900", 0))

    def test_a_process_that_is_killed_is_a_fault_and_no_refusal(self):
        brought, _ = self.bring()
        with (
            mock.patch.object(aside.sys, "executable", "/bin/false"),
            self.assertLogs("frimble.exchange.packages.services", "ERROR"),
        ):
            self.ends(brought, "failed")
        self.holds_nothing()

    def test_what_a_killed_worker_left_is_cleared_and_read_anew(self):
        brought, _ = self.bring()
        PackageReading.objects.update(state="running", tries=1)
        left = settings.VAR_DIR / "package-left"
        left.mkdir()
        self.assertEqual(services.take_up_left(), 1)
        self.assertFalse(left.exists())
        brought.refresh_from_db()
        self.assertEqual(brought.state, "waiting")
