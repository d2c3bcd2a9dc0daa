"""What no page of ours sends is answered in words; and a small share of the many malformed inputs that the bench tries."""

import errno
import os
import random
from unittest import mock

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import DataError, OperationalError
from django.http import Http404
from django.test import Client, SimpleTestCase
from django.urls import reverse
from django.utils import timezone

from frimble.films.models import Film, ScanCheck
from frimble.people.models import HouseSetting, Person
from frimble.screens.models import Screen
from frimble.testing.case import PageCase
from frimble.testing.malformed import WORDS, Malformed, addresses, forms_of
from frimble.testing.shop import small_shop
from frimble.ui.input import number_in, row_number

_FORM = "application/x-www-form-urlencoded"


class CleanInputTests(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.client.force_login(self.people["odile"])

    def test_control_characters_of_a_scanner_are_taken_out(self):
        self.assertRedirects(self.client.get("/find/", {"q": "\x02Q-014\x03"}), "/screens/Q-014/")
        typed = {"key": "tension.poor_below", "value": "21\x00", "reason": "our\x1b whites\nneed it"}
        self.client.post("/people/settings/", typed)
        self.assertEqual(HouseSetting.objects.get().reason, "our whites\nneed it")

    def test_bodies_that_cannot_be_read_are_told_so(self):
        for body, kind in (
            (b"a=1", f"{_FORM}; charset=utf-16"), (b"a=1", f"{_FORM}; charset=x"), (b"--x\r\nbroken", "multipart/form-data"),
            (b"--x\r\nContent-Disposition: form-data; name=a\r\n\r\n1\r\n--x--",
             "multipart/form-data; boundary=x; charset=zz"),
        ):  # fmt: skip
            with self.subTest(kind):
                answer = self.client.generic("POST", "/people/settings/", body, content_type=kind)
                self.assertIn(answer.status_code, (400, 422))
        self.assertFalse(HouseSetting.objects.exists())

    def test_no_page_stands_under_an_address_with_nul(self):
        self.assertEqual(self.client.get("/screens/Q%00014/").status_code, 404)

    def test_what_got_through_to_where_it_cannot_be_taken_is_said_in_words(self):
        for fault, status in ((OverflowError(), 400), (DataError(), 400), (RecursionError(), 400)):
            with mock.patch("frimble.jobs.views.floor_of", side_effect=fault):
                self.assertContains(self.client.get("/"), "larger than any record can hold", status_code=status)

    def test_a_full_disk_a_closed_folder_and_a_busy_database_are_said_and_what_was_typed_stays(self):
        typed = {"key": "tension.poor_below", "value": "21", "reason": "our whites need it"}
        for said, words in (
            ("database or disk is full", "The disk of the server is full."),
            ("attempt to write a readonly database", "may not be written to"),
            ("database is locked", "Others are recording much at once."),
            ("disk I/O error", "the log says why"),
        ):
            with (
                self.subTest(said),
                mock.patch("frimble.people.house.views.house_settings.change", side_effect=OperationalError(said)),
            ):
                answer = self.client.post("/people/settings/", typed)
                self.assertContains(answer, words, status_code=503)
                ((method, path, fields),) = forms_of("", answer.content.decode())[-1:]
                self.assertEqual((method, path, fields["reason"]), ("POST", "/people/settings/", "our whites need it"))
        self.assertEqual(self.client.post(path, fields).status_code, 302)
        self.assertEqual(HouseSetting.objects.get().value, "21")

    def test_a_disk_that_takes_no_file_is_said_and_a_file_that_is_gone_too(self):
        typed = {"key": "tension.poor_below", "value": "21", "reason": "our whites need it"}
        for number, kept, asked in (
            (errno.ENOSPC, "The disk of the server is full.", "The disk of the server is full."),
            (errno.EROFS, "may not be written to", "may not be read"),
            (errno.EACCES, "may not be written to", "may not be read"),
            (errno.EIO, "A disk of the server fails.", "A disk of the server fails."),
        ):
            fault = OSError(number, os.strerror(number))
            with self.subTest(fault):
                with mock.patch("frimble.people.house.views.house_settings.change", side_effect=fault):
                    answer = self.client.post("/people/settings/", typed)
                self.assertContains(answer, kept, status_code=503)
                ((_, _, fields),) = forms_of("", answer.content.decode())[-1:]
                self.assertEqual(fields["reason"], "our whites need it")
                with mock.patch("frimble.jobs.views.floor_of", side_effect=fault):
                    self.assertContains(self.client.get("/"), asked, status_code=503)
        film = Film.objects.create(name="Quay", made_at=timezone.now(), made_by=self.people["odile"])
        rows = {"film": film, "at": timezone.now(), "by": self.people["odile"], "state": "done"}
        check = ScanCheck.objects.create(picture="scans/gone", result=dict.fromkeys(("passed", "reason"), ""), **rows)
        address = reverse("films:sheet-picture", args=[check.pk])
        self.assertContains(self.client.get(address), "not in the data folder any more", status_code=404)
        self.assertContains(self.client.get(address), "<h1>Not here</h1>", status_code=404)
        with (
            mock.patch("frimble.jobs.views.floor_of", side_effect=BrokenPipeError()),
            self.assertRaises(BrokenPipeError),
        ):
            self.client.get("/")

    def test_a_disk_that_takes_no_upload_is_said(self):
        large = SimpleUploadedFile("scan.png", bytes(3_000_000))
        full = mock.patch(
            "django.core.files.uploadhandler.TemporaryUploadedFile", side_effect=OSError(errno.ENOSPC, "full")
        )
        with full:
            answer = self.client.post("/film/films/1/", {"scan": large})
        self.assertContains(answer, "The disk of the server is full.", status_code=503)

    def test_digits_that_are_no_number_choose_nothing(self):
        for text in ("²", "٣", "9" * 500, "-1", "1.0"):
            self.assertIsNone(number_in(text))
        self.assertEqual(number_in("42"), 42)

    def test_pages_that_are_asked_for_such_a_number_show_all(self):
        for path in ("/expose/chart/?mesh=%s", "/coat/steadiness/?person=%s", "/film/placement/?images-TOTAL_FORMS=1"
                     "&images-INITIAL_FORMS=0&images-0-record=%s"):  # fmt: skip
            for text in ("²", "9" * 500):
                with self.subTest(path=path, text=text[:3]):
                    self.assertIn(self.client.get(path % text).status_code, (200, 422))

    def test_texts_longer_than_can_be_looked_for(self):
        long = "x" * 100_000
        for path in ("/screens/", "/find/", "/jobs/", "/people/settings/"):
            with self.subTest(path):
                answer = self.client.get(path, {"q": long, "text": long})
                self.assertLess(answer.status_code, 500)
        self.assertRedirects(self.client.post("/people/me/end-session/", {"session": long}), "/people/me/")

    def test_row_numbers(self):
        self.assertEqual(row_number("17"), 17)
        # Source: SQLite, Datatypes: whole numbers have 64 bits.
        for text in (None, "", "x", "-1", "1.5", "٣", "²", str(2**63), "9" * 500):
            with self.subTest(text), self.assertRaises(Http404):
                row_number(text)

    def test_taps_of_wrong_types_are_answered(self):
        for body in (b"[]", b"{", b"null", b'{"taps": 5}', b'{"taps": [1]}', b"[" * 100_000, b"\xff"):
            with self.subTest(body[:20]):
                answer = self.client.generic("POST", "/expose/run/1/taps/", body, content_type="application/json")
                self.assertIn(answer.status_code, (400, 404))


class PrivateTests(PageCase):
    def test_what_is_private_stays_in_no_cache_and_in_no_frame(self):
        small_shop()
        self.client.force_login(Person.objects.get(username="odile"))
        for path in ("/", "/screens/Q-014/", "/exchange/screens.csv"):
            answer = self.client.get(path)
            self.assertEqual((path, answer["Cache-Control"]), (path, "no-store"))
        for path in ("/", "/people/sign-in/", "/health/"):
            answer = self.client.get(path)
            self.assertEqual(answer["X-Frame-Options"], "DENY")
            self.assertIn("frame-ancestors 'none'", answer["Content-Security-Policy"])

    def test_a_page_that_grew_too_old_keeps_what_was_typed(self):
        small_shop()
        strict = Client(enforce_csrf_checks=True)
        strict.force_login(Person.objects.get(username="odile"))
        typed = {"key": "tension.poor_below", "value": "21", "reason": "our whites need it"}
        answer = strict.post("/people/settings/", typed)
        self.assertEqual(answer.status_code, 403)
        ((method, path, fields),) = forms_of("", answer.content.decode())[-1:]
        self.assertEqual((method, path), ("POST", "/people/settings/"))
        self.assertEqual(strict.post(path, fields).status_code, 302)
        self.assertEqual(HouseSetting.objects.get().value, "21")


class MalformedTests(PageCase):
    """A hundredth of what the bench tries; the seed is its own."""

    def test_none_ends_in_a_server_error_or_half_a_record(self):
        people = small_shop()
        client = Client(raise_request_exception=False)
        client.force_login(people["odile"])
        paths = ("/", "/screens/Q-014/do/degrease/", "/screens/Q-014/tension/", "/screens/rack/define/", "/coat/batches/",
                 "/coat/coaters/", "/film/placement/", "/screens/lives/", "/screens/register/", "/people/me/",
                 "/people/add/", "/expose/lamps/new/", "/coat/planner/", "/screens/mesh/choose/")  # fmt: skip
        pages = {path: client.get(path).content.decode() for path in paths}
        known, screens = set(WORDS), Screen.objects.count()
        self.assertGreater(len(known), 40)
        statuses = []
        for one in Malformed(pages, 7).some(150):
            client.force_login(people["odile"])
            if one.content_type:
                answer = client.generic(one.method, one.path, one.data, content_type=one.content_type)
            else:
                answer = getattr(client, one.method.lower())(one.path, one.data)
            statuses.append(answer.status_code)
            self.assertLess(answer.status_code, 500, str(one))
        self.assertGreater(len(set(statuses)), 3)
        self.assertLessEqual(Screen.objects.count(), screens + 50)


class AddressTests(SimpleTestCase):
    def test_every_address_of_the_application_is_tried(self):
        made = list(addresses(random.Random(1)))
        self.assertGreater(len(made), 100)
        self.assertEqual([path for path in made if "<" in path], [])
