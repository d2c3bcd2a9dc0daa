"""The whole shop out as an open data package and back into an empty one, equal to the last cell."""

import io
import json
import zipfile

from django.core.files.base import ContentFile
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TransactionTestCase

from frimble.core.conclusions import InvalidInput
from frimble.core.tension.measurement import DIRECTIONS, FIVE_PLACES, TensionReading
from frimble.exchange import package
from frimble.jobs.models import Job, Photo
from frimble.people.models import Person
from frimble.screens.blemishes import services as blemish_services
from frimble.screens.ledger import differences
from frimble.screens.models import Screen, ScreenEvent
from frimble.screens.tension import services as tension_services
from frimble.testing.case import PageCase
from frimble.testing.records import record
from frimble.testing.shop import small_shop


def written() -> dict[str, bytes]:
    """Every part of the package by its name."""
    file = io.BytesIO()
    package.write_package(file)
    archive = zipfile.ZipFile(file)
    return {name: archive.read(name) for name in archive.namelist()}


def zipped(parts) -> io.BytesIO:
    file = io.BytesIO()
    with zipfile.ZipFile(file, "w") as archive:
        for name, data in parts.items():
            archive.writestr(name, data)
    return file


def a_days_work(people) -> None:
    """Records of several kinds, with words that try a CSV."""
    readings = [TensionReading(p, d, 23.4567) for p in FIVE_PLACES for d in DIRECTIONS]
    tension_services.record_tension(
        "Q-014", readings, people["tamsin"], note='commas, "quotes"\nand a new line; ünïcode'
    )
    record("Q-014", "degrease", people["tamsin"], summary="Degreased", facts={"dwell_s": 25.0})
    screen = Screen.objects.for_lists().get(frame__code="Q-015")
    blemish_services.note_blemish(screen, people["tamsin"], kind="ghost", x_mm=100, y_mm=100, width_mm=30, height_mm=20)
    photo = Photo(job=Job.objects.get(), shows="print", at=screen.installation.mounted_at, by=people["ines"])
    photo.picture.save("p", ContentFile(b"a picture"), save=False)
    photo.save()


class RoundTripTests(TransactionTestCase):
    def test_out_and_into_an_empty_shop(self):
        a_days_work(small_shop())
        before = written()
        for model in reversed(package.tables()):
            model._base_manager.all()._raw_delete("default")
        Person.objects.create_user("new-lead", password="x", role="lead")
        counted = package.read_package(zipped(before))
        self.assertEqual(counted["screens.ScreenEvent"], 2)
        after = written()
        self.assertEqual(set(after), set(before))
        for name in before:
            self.assertEqual(after[name], before[name], name)
        self.assertFalse(Person.objects.filter(username="new-lead").exists())
        self.assertFalse(Person.objects.get(username="odile").has_usable_password())
        self.assertEqual([d for s in Screen.objects.for_lists() for d in differences(s)], [])
        # What is read goes on working.
        record("Q-014", "degrease", Person.objects.get(username="tamsin"), summary="Once more")
        self.assertEqual(ScreenEvent.objects.count(), 3)

    def test_a_value_that_does_not_fit_is_named_and_nothing_is_kept(self):
        small_shop()
        parts = written()
        name = "data/screens.frame.csv"
        parts[name] = parts[name].replace(b"580.0", b"wide", 1)
        for model in reversed(package.tables()):
            model._base_manager.all()._raw_delete("default")
        with self.assertRaisesMessage(InvalidInput, "row 2, outer_width_mm: “wide” does not fit"):
            package.read_package(zipped(parts))
        self.assertFalse(Screen.objects.exists())
        self.assertFalse(Person.objects.exists())


class PackageTests(PageCase):
    def setUp(self):
        self.people = small_shop()

    def test_every_column_is_described_with_type_and_unit(self):
        # Source: Frictionless Data, Table Schema 1: name, type, constraints; resources with path and schema.
        answer = json.loads(written()["datapackage.json"])
        resources = {r["path"]: r for r in answer["resources"]}
        frame = {f["name"]: f for f in resources["data/screens.frame.csv"]["schema"]["fields"]}
        self.assertEqual((frame["outer_width_mm"]["type"], frame["outer_width_mm"]["unit"]), ("number", "mm"))
        self.assertEqual(frame["registered_at"]["type"], "datetime")
        self.assertIn("draw_bar", frame["material"]["constraints"]["enum"])
        value = {f["name"]: f for f in resources["data/screens.tensionvalue.csv"]["schema"]["fields"]}
        self.assertEqual(value["n_per_cm"]["unit"], "N/cm")
        person = [f["name"] for f in resources["data/people.person.csv"]["schema"]["fields"]]
        self.assertNotIn("password", person)

    def test_what_is_refused(self):
        with self.assertRaisesMessage(InvalidInput, "not a data package"):
            package.read_package(io.BytesIO(b"no zip"))
        with self.assertRaisesMessage(InvalidInput, "The shop is not empty"):
            package.read_package(zipped(written()))

    def test_only_a_lead_fetches_and_reads_the_shop(self):
        self.client.force_login(self.people["tamsin"])
        self.assertEqual(self.client.get("/exchange/shop.zip").status_code, 404)
        self.client.force_login(self.people["odile"])
        data = b"".join(self.client.get("/exchange/shop.zip").streaming_content)
        self.assertTrue(zipfile.is_zipfile(io.BytesIO(data)))
        answer = self.client.post("/exchange/", {"package": "1", "file": SimpleUploadedFile("shop.zip", data)})
        self.assertContains(answer, "The shop is not empty", status_code=422)
