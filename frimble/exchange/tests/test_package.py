"""The whole shop out as an open data package and back into an empty one, equal to the last cell."""

import io
import json
import re
import zipfile

from django.core.files.base import ContentFile
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TransactionTestCase

from frimble.core.conclusions import InvalidInput
from frimble.core.tension.measurement import DIRECTIONS, FIVE_PLACES, TensionReading
from frimble.exchange.packages import reading, writing
from frimble.exchange.packages.bad_cells import MOST_TOLD, BadCell
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
    writing.write_package(file)
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
        for model in reversed(writing.tables()):
            model._base_manager.all()._raw_delete("default")
        Person.objects.create_user("new-lead", password="x", role="lead")
        counted = reading.read_package(zipped(before))
        self.assertEqual(counted["screens.ScreenEvent"], 2)
        after = written()
        self.assertEqual(set(after), set(before))
        # Whoever read it in stays able to come in; all else is as it was.
        people = "data/people.person.csv"
        after[people] = b"".join(line for line in after[people].splitlines(True) if b"new-lead" not in line)
        for name in before:
            self.assertEqual(after[name], before[name], name)
        self.assertTrue(Person.objects.get(username="new-lead").check_password("x"))
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
        for model in reversed(writing.tables()):
            model._base_manager.all()._raw_delete("default")
        with self.assertRaisesMessage(InvalidInput, "row 2, outer_width_mm: “wide” is no finite number"):
            reading.read_package(zipped(parts))
        self.assertFalse(Screen.objects.exists())
        self.assertFalse(Person.objects.exists())

    def test_each_bad_cell_is_named_with_its_rule_and_nothing_is_kept(self):
        a_days_work(small_shop())
        whole = written()
        frames, events = "data/screens.frame.csv", "data/screens.screenevent.csv"
        meshes = "data/screens.meshtype.csv"
        for name, old, new, words in (
            (frames, b"580.0", b"nan", "“nan” is no finite number"),
            (frames, b"580.0", b"1e999", "“1e999” is no finite number"),
            # Common practice, no source: a length is more than nothing.
            (frames, b"580.0", b"-580.0", "row 2, outer_width_mm: “-580.0” breaks a rule: More than 0 is wanted."),
            (frames, b"580.0", b"0", "“0” breaks a rule: More than 0 is wanted."),
            (frames, b"Q-015", b"Q-014", "row 3: the database refuses it: "),
            (meshes, b"77.0", b"1e13", "is more than anything that is measured"),
            (frames, b"aluminium", b"gold", "“gold” is none of"),
            (frames, b"Q-014", b"Q" * 300, "is longer than"),
            (frames, b"Q-014", b"\xff\xfe", "is not written in UTF-8"),
            (frames, b"Q-014", b"Q\x0014", "holds a character that no text has"),
            (frames, b"\n", b"\n1,2\n", "row 2: 2 cells for"),
            (events, b"2026", b"never", "is no moment"),
            (events, b"{", b"{{", "Expecting property name"),
            (events, b'""dwell_s"": 25.0', b'""dwell_s"": NaN', "holds NaN"),
            (events, b'""dwell_s"": 25.0', b'""dwell_s"": ""x""', "Of degrease, dwell_s is of another type."),
            (events, b'""dwell_s"": 25.0', b'""seconds"": 25.0', "Of degrease, seconds does not belong to it."),
            (events, b'""wet_until"": ""2', b'""wet_until"": ""x', "wet_until is no moment"),
        ):
            with self.subTest(words):
                self.assertIn(old, whole[name])
                self.refused(whole | {name: whole[name].replace(old, new, 1)}, words)
        photo = next(name for name in whole if name.startswith("files/"))
        self.refused({name: data for name, data in whole.items() if name != photo}, "has lost the file")
        twice = whole[frames] + whole[frames].splitlines(True)[1]
        self.refused(whole | {frames: twice}, "is there twice")
        astray = whole["data/screens.slot.csv"].replace(b"\n1,", b"\n1,", 1)
        header, row, *rest = astray.decode().splitlines(True)
        cells = dict(zip(header.strip().split(","), row.strip().split(","), strict=True)) | {"rack_id": "999"}
        spoilt = "".join([header, ",".join(cells.values()) + "\n", *rest]).encode()
        self.refused(whole | {"data/screens.slot.csv": spoilt}, "points to one that is not there")

    def test_all_bad_cells_of_all_tables_are_told_and_then_rows_that_point_nowhere(self):
        small_shop()
        whole = written()
        frames, slots = "data/screens.frame.csv", "data/screens.slot.csv"
        wide = whole | {
            frames: whole[frames].replace(b"580.0", b"wide"),
            slots: re.sub(rb"\n\d+,", b"\nnone,", whole[slots], count=1),
        }
        told = self.refused(wide, f"And {whole[frames].count(b'580.0')} more.").cells
        self.assertEqual(len(told), whole[frames].count(b"580.0") + 1)
        self.assertEqual({cell.file for cell in told}, {frames, slots})
        self.assertIn(BadCell(frames, 2, "outer_width_mm", "wide", "is no finite number"), told)
        gone = whole | {frames: whole[frames].splitlines(True)[0]}
        astray = self.refused(gone, "points to one that is not there").cells
        self.assertEqual({cell.column for cell in astray}, {"frame_id"})
        self.assertEqual({cell.row for cell in astray}, set(range(2, len(whole[frames].splitlines()) + 1)))

    def test_no_more_are_looked_for_than_anybody_reads(self):
        small_shop()
        whole = written()
        frames = "data/screens.frame.csv"
        headings, row, *_ = whole[frames].splitlines(True)
        many = whole | {frames: headings + row.replace(b"580.0", b"wide") * (MOST_TOLD + 50)}
        refusal = self.refused(many, "outer_width_mm")
        self.assertEqual((len(refusal.cells), refusal.all_told), (MOST_TOLD, False))

    def refused(self, parts, words):
        for model in reversed(writing.tables()):
            model._base_manager.all()._raw_delete("default")
        with self.assertRaises(InvalidInput) as refusal:
            reading.read_package(zipped(parts))
        self.assertIn(words, str(refusal.exception))
        self.assertFalse(Screen.objects.exists())
        return refusal.exception

    def test_what_unpacks_to_more_than_the_machine_holds_is_not_unpacked(self):
        small_shop()
        whole = written()
        file = io.BytesIO()
        with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as archive:
            for name, data in whole.items():
                archive.writestr(name, data)
            with archive.open("data/bomb.csv", "w", force_zip64=True) as bomb:
                for _ in range(320):
                    bomb.write(b"0" * 2**20)
        self.assertLess(len(file.getvalue()), 2**21)
        for model in reversed(writing.tables()):
            model._base_manager.all()._raw_delete("default")
        with self.assertRaisesMessage(InvalidInput, "no shop is so large"):
            reading.read_package(file)


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
        self.assertEqual(frame["outer_width_mm"]["constraints"], {"required": True, "minimum": 0})
        self.assertIn("draw_bar", frame["material"]["constraints"]["enum"])
        value = {f["name"]: f for f in resources["data/screens.tensionvalue.csv"]["schema"]["fields"]}
        self.assertEqual(value["n_per_cm"]["unit"], "N/cm")
        person = [f["name"] for f in resources["data/people.person.csv"]["schema"]["fields"]]
        self.assertNotIn("password", person)

    def test_what_is_refused(self):
        with self.assertRaisesMessage(InvalidInput, "not a data package"):
            reading.read_package(io.BytesIO(b"no zip"))
        with self.assertRaisesMessage(InvalidInput, "The shop is not empty"):
            reading.read_package(zipped(written()))

    def test_only_a_lead_fetches_and_reads_the_shop(self):
        self.client.force_login(self.people["tamsin"])
        self.assertEqual(self.client.get("/exchange/shop.zip").status_code, 404)
        self.client.force_login(self.people["odile"])
        data = b"".join(self.client.get("/exchange/shop.zip").streaming_content)
        self.assertTrue(zipfile.is_zipfile(io.BytesIO(data)))
        answer = self.client.post("/exchange/", {"package": "1", "file": SimpleUploadedFile("shop.zip", data)})
        self.assertContains(answer, "The shop is not empty", status_code=422)
