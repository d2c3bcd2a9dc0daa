"""Messy lists matched, dry-run and taken over whole or not at all; screens written out."""

import csv
import io
import zipfile
from datetime import date
from unittest import mock

from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils import timezone
from openpyxl import Workbook, load_workbook

from frimble.core.settings import HouseSettings
from frimble.exchange import drafts, matching, reading, taking
from frimble.exchange.models import Draft
from frimble.people import settings as house_settings
from frimble.screens import ledger
from frimble.screens.models import Frame, MeshType, Screen, ScreenEvent, Slot
from frimble.screens.register import many
from frimble.testing.case import PageCase
from frimble.testing.shop import small_shop

MESSY = """Screen;Mesh;Frame size;Type;Tension;Date;Place
q 100;43-80Y;58 x 79;alu;23,5;2026-03-14;A-01
Q-101;110T;23 in x 31 in;Roller;24.0 N/cm;14.3.2026;
Q-102;305-34;660mm x 910mm;wood;;3/14/2026;A-02
"""


class MatchingTests(PageCase):
    def run_dry(self, text=MESSY, **choices):
        table = reading.read_table(text.encode())
        columns = matching.guess_columns(table.headings)
        chosen = matching.Choices(columns, **({"unit": "cm", "counts": "ask", "dates": "month"} | choices))
        shop = matching.InShop(frozenset({"Q-014"}), {"A-01": "", "A-02": "", "A-03": "Q-014"})
        return matching.dry_run(
            table.headings, table.rows, chosen, lambda rows: shop, date(2026, 11, 23), HouseSettings()
        )

    def test_columns_are_matched_by_the_words_people_use(self):
        answer = matching.guess_columns(
            ["Screen No.", "Mesh count", "Width (cm)", "Height (cm)", "N/cm", "Last checked", "Location"]
        )
        self.assertEqual(
            answer, {"code": 0, "mesh": 1, "width": 2, "height": 3, "tension": 4, "measured": 5, "slot": 6}
        )
        self.assertEqual(matching.guess_columns(["a", "b"]), {})

    def test_units_threads_and_dates_in_three_forms(self):
        result = self.run_dry(counts="in")
        self.assertEqual(result.errors, [])
        first, second, third = result.rows
        self.assertEqual((first.code, first.count_per_cm, first.thread_um, first.colour), ("Q-100", 43, 80, "yellow"))
        self.assertEqual((first.width_mm, first.height_mm, first.tension), (580, 790, 23.5))
        # Source: arithmetic; 23 in are 584.2 mm. From memory: a usual 110/in is 43-80.
        self.assertAlmostEqual(second.width_mm, 584.2)
        self.assertEqual((second.thread_um, second.kind), (80, "roller"))
        self.assertAlmostEqual(second.count_per_cm, 110 / 2.54, 1)
        self.assertEqual({r.measured for r in result.rows}, {date(2026, 3, 14)})
        self.assertEqual((third.width_mm, third.kind, third.slot), (660, "wood", "A-02"))

    def test_an_ambiguous_count_is_asked_and_not_guessed(self):
        (error,) = self.run_dry().errors
        self.assertEqual((error.row, error.column, error.value), (3, "Mesh", "110T"))
        self.assertIn("Choose for bare counts", error.reason)

    def test_every_error_has_row_column_value_and_reason(self):
        rows = [
            ("Q-014;43-80;58x79;;;;", "Screen", "exists already"),
            ("Q-9;43-80;58x79;;;;\nQ-9;43-80;58x79;;;;", "Screen", "row 2 too"),
            ("Q-9;lace;58x79;;;;", "Mesh", ""),
            ("Q-9;43-80;5 x 9;;;;", "Frame size", "no frame's side"),
            ("Q-9;43-80;big;;;;", "Frame size", "Two sides"),
            ("Q-9;43-80;58x79;paper;;;", "Type", "Aluminium"),
            ("Q-9;43-80;58x79;;240;;", "Tension", "24.0 meant"),
            ("Q-9;43-80;58x79;;20;31.2.2026;", "Date", "no such day"),
            ("Q-9;43-80;58x79;;20;1.1.2031;", "Date", "future"),
            ("Q-9;43-80;58x79;;;;A-03", "Place", "holds Q-014"),
            ("Q-9;43-80;58x79;;;;Z-9", "Place", "No slot"),
            (";43-80;58x79;;;;", "Screen", "Missing"),
        ]
        for text, column, reason in rows:
            with self.subTest(text):
                errors = self.run_dry("Screen;Mesh;Frame size;Type;Tension;Date;Place\n" + text).errors
                self.assertTrue(errors)
                self.assertEqual(errors[-1].column, column)
                self.assertIn(reason, errors[-1].reason)

    def test_time_does_not_go_backwards(self):
        text = "Screen;Mesh;Size;Tension;Measured;Mounted\nQ-9;43-80;58x79;20;2026-01-01;2026-02-01"
        (error,) = self.run_dry(text).errors
        self.assertIn("before its mesh was mounted", error.reason)

    def test_which_comes_first_is_guessed_by_what_can_be(self):
        for text, order in (("3/14/2026", "month"), ("14/3/2026", "day"), ("3/4/2026", "day"), ("2026/03/14", "day")):
            self.assertEqual(matching.guess_dates([[text]], {"measured": 0}), order, text)

    def test_bare_sizes_are_guessed_by_how_large_they_are(self):
        for text, unit in (("58 x 79", "cm"), ("580 x 790", "mm"), ("23 x 31", "in")):
            self.assertEqual(matching.guess_unit([[text]], {"size": 0}), unit)


class ReadingTests(PageCase):
    def refused(self, data, word):
        with self.assertRaisesMessage(matching.InvalidInput, word):
            reading.read_table(data)

    def test_codings_and_separators(self):
        for data in (
            "Code,Mesh\nQ-1,43-80\n".encode("utf-8-sig"),
            "Code\tMesh\nQ-1\t43-80\n".encode("utf-16"),
            "Code;Mesh;Kind\nQ-1;43-80;Holz, grün\n".encode("cp1252"),
        ):
            table = reading.read_table(data)
            self.assertEqual((table.headings[0], table.rows[0][:2]), ("Code", ["Q-1", "43-80"]))
        self.assertIn("Windows Western", " ".join(table.notes))
        self.assertEqual(table.rows[0][2], "Holz, grün")

    def test_workbooks(self):
        book = Workbook()
        book.active.append(["Code", "Tension", "Date"])
        book.active.append(["Q-1", 23.5, date(2026, 3, 14)])
        file = io.BytesIO()
        book.save(file)
        self.assertEqual(reading.read_table(file.getvalue()).rows, [["Q-1", "23.5", "2026-03-14"]])
        self.refused(b"PK\x03\x04 broken", "XLSX cannot be read")

    def test_a_sheet_that_reaches_to_its_last_column_costs_nothing(self):
        book = Workbook()
        book.active.append(["Code", "Tension"])
        book.active.append(["Q-1", 23.5])
        # Source: ECMA-376, 18.3.1: XFD is the last column a sheet has.
        book.active["XFD900"] = "x"
        file = io.BytesIO()
        book.save(file)
        self.assertEqual(reading.read_table(file.getvalue()).rows, [["Q-1", "23.5"]])

    def test_a_workbook_that_unpacks_to_more_than_the_machine_holds_is_not_unpacked(self):
        file = io.BytesIO()
        with (
            zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as packed,
            packed.open("xl/sharedStrings.xml", "w") as part,
        ):
            for _ in range(160):
                part.write(b" " * 2**20)
        self.refused(file.getvalue(), "unpacks to more than")

    def test_what_is_no_list_or_too_long_a_one(self):
        self.refused(b"", "list is empty")
        self.refused(b"Code\n", "list is empty")
        self.refused(b"\x00\x01\x02\x03", "neither a CSV nor an XLSX")
        self.refused(("Code\n" + "Q-1\n" * 100_000).encode(), "more than 20000 rows")
        self.refused(("a," * 200 + "\n" + "b," * 200).encode(), "columns are more than 80")


class TakingTests(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.client.force_login(self.people["odile"])

    def hand_in(self, data=None):
        data = MESSY.encode() if data is None else data
        return self.client.post("/exchange/", {"file": SimpleUploadedFile("list.csv", data)})

    def choices(self, **typed):
        given = {"unit": "cm", "counts": "in", "dates": "month"}
        columns = {"code": 0, "mesh": 1, "size": 2, "kind": 3, "tension": 4, "measured": 5, "slot": 6}
        return given | {f"column_{k}": str(v) for k, v in columns.items()} | typed

    def test_a_dry_run_stores_nothing_and_taking_over_stores_all(self):
        page = self.client.get(self.hand_in().url)
        self.assertContains(page, "cannot be read")
        self.assertEqual(Screen.objects.count(), 4)
        address = f"/exchange/lists/{Draft.objects.get().pk}/"
        self.assertContains(self.client.post(address, self.choices()), "Take over 3 screens")
        self.assertEqual(Screen.objects.count(), 4)
        self.assertRedirects(self.client.post(address, self.choices(take="1")), address)
        self.assertContains(self.client.get(address), "0 of 3 written")
        taking.run.call(Draft.objects.get().pk)
        self.assertContains(self.client.get(address), "3 screens taken over")
        made = {s.code: s for s in Screen.objects.for_lists()}
        self.assertEqual(made["Q-100"].slot.code, "A-01")
        self.assertAlmostEqual(made["Q-101"].tension_n_per_cm, 24.0)
        self.assertEqual(timezone.localdate(made["Q-101"].tension_at), date(2026, 3, 14))
        self.assertTrue(MeshType.objects.filter(thread_um=34, count_per_cm=120).exists())
        for screen in made.values():
            self.assertEqual(ledger.differences(screen), [])

    def test_days_come_in_and_go_out_as_the_room_counts_them(self):
        # Source: the zone database: in March noon in Auckland is 23:00 UTC of the day before.
        house_settings.change("room.time_zone", "Pacific/Auckland", "moved", self.people["odile"], timezone.now())
        self.hand_in()
        draft = Draft.objects.get()
        self.client.post(f"/exchange/lists/{draft.pk}/", self.choices(take="1"))
        taking.run.call(draft.pk)
        out = csv.DictReader(
            io.StringIO(self.client.get("/exchange/screens.csv?text=q-10").content.decode("utf-8-sig"))
        )
        self.assertEqual({row["Code"]: row["Measured"] for row in out}["Q-101"], "2026-03-14")

    def test_one_bad_row_and_nothing_is_taken_over(self):
        self.hand_in((MESSY + "Q-103;43-80;1 x 2;;;;\n").encode())
        address = f"/exchange/lists/{Draft.objects.get().pk}/"
        page = self.client.post(address, self.choices(take="1"))
        self.assertContains(page, "nothing was taken over", status_code=422)
        self.assertContains(page, "no frame&#x27;s side", status_code=422)
        self.assertEqual(Screen.objects.count(), 4)

    def waiting(self):
        """A list that waits to be taken over, in parts of one row."""
        self.hand_in((MESSY.split("Q-102")[0]).encode())
        draft = Draft.objects.get()
        self.client.post(f"/exchange/lists/{draft.pk}/", self.choices(take="1"))
        parts = mock.patch.object(many, "A_PART", 1)
        parts.start()
        self.addCleanup(parts.stop)
        return draft

    def assert_nothing_stays(self, words):
        draft = Draft.objects.get()
        self.assertContains(self.client.get(f"/exchange/lists/{draft.pk}/"), words)
        self.assertEqual((Frame.objects.count(), Screen.objects.count(), ScreenEvent.objects.count()), (4, 4, 0))

    def test_no_screen_is_seen_before_the_last_is_written(self):
        draft, write, seen = self.waiting(), many.write_part, []

        def watched(*args):
            screens = write(*args)
            seen.append((Frame.objects.count(), Screen.objects.count()))
            # Every page that lists or counts screens goes on as before.
            self.assertEqual(self.client.get("/screens/").status_code, 200)
            return screens

        with mock.patch.object(many, "write_part", watched):
            taking.run.call(draft.pk)
        self.assertEqual(seen, [(5, 4), (6, 4)])
        self.assertEqual(Screen.objects.count(), 6)

    def test_what_breaks_off_half_way_leaves_nothing(self):
        draft, write, calls = self.waiting(), many.write_part, []

        def breaks(*args):
            calls.append(args)
            if len(calls) == 2:
                raise OSError("no space left")
            return write(*args)

        with mock.patch.object(many, "write_part", breaks), self.assertLogs("frimble.exchange.taking", "ERROR"):
            taking.run.call(draft.pk)
        self.assert_nothing_stays("It broke off: a fault of Frimble&#x27;s")

    def test_a_slot_that_was_taken_meanwhile_is_named_and_nothing_stays(self):
        draft, show = self.waiting(), many.show

        def late(screens):
            screen, slot = Screen.objects.get(frame__code="Q-014"), Slot.objects.get(code="A-01")
            Screen.objects.filter(pk=screen.pk).update(slot=slot)
            return show(screens)

        with mock.patch.object(many, "show", late):
            taking.run.call(draft.pk)
        self.assert_nothing_stays("Q-014 was put in slot A-01 meanwhile")

    def test_a_killed_worker_is_taken_up_and_nothing_is_there_twice(self):
        draft, write, calls = self.waiting(), many.write_part, []

        def killed(*args):
            if calls:
                raise KeyboardInterrupt
            calls.append(args)
            return write(*args)

        with mock.patch.object(many, "write_part", killed), self.assertRaises(KeyboardInterrupt):
            taking.run.call(draft.pk)
        self.assertEqual((Frame.objects.count(), Screen.objects.count()), (5, 4))
        self.assertEqual(taking.take_up_left(), 1)
        taking.run.call(draft.pk)
        self.assertEqual((Frame.objects.count(), Screen.objects.count()), (6, 6))

    def test_a_run_that_another_overtakes_stops_and_the_list_is_taken_once(self):
        draft, write, calls = self.waiting(), many.write_part, []

        def overtaken(*args):
            screens = write(*args)
            calls.append(args)
            if len(calls) == 1:
                # A second server starts in the middle, and its worker takes the list up.
                taking.take_up_left()
                taking.run.call(draft.pk)
            return screens

        with mock.patch.object(many, "write_part", overtaken):
            taking.run.call(draft.pk)
        self.assertEqual((Frame.objects.count(), Screen.objects.count()), (6, 6))
        draft.refresh_from_db()
        self.assertEqual((draft.state, draft.refusal), (Draft.State.DONE, ""))

    def test_a_slot_that_is_too_small_refuses_the_list_by_its_row(self):
        self.hand_in(MESSY.replace("58 x 79", "108 x 139").encode())
        draft = Draft.objects.get()
        self.client.post(f"/exchange/lists/{draft.pk}/", self.choices(take="1"))
        taking.run.call(draft.pk)
        self.assert_nothing_stays("Row 2, Q-100: ")

    def test_bad_files_and_who_may(self):
        self.assertContains(self.hand_in(b"\x00\x00"), "neither a CSV nor an XLSX", status_code=422)
        self.client.force_login(self.people["tamsin"])
        self.assertEqual(self.hand_in().status_code, 403)

    def test_screens_out_come_back_in(self):
        data = self.client.get("/exchange/screens.csv?text=q-01").content
        rows = list(csv.DictReader(io.StringIO(data.decode("utf-8-sig"))))
        self.assertEqual([r["Code"] for r in rows], ["Q-014", "Q-015", "Q-016"])
        self.assertEqual(matching.guess_columns(list(rows[0]))["mesh"], 1)
        sheet = load_workbook(io.BytesIO(self.client.get("/exchange/screens.xlsx").content)).active
        self.assertEqual(sheet["A2"].value, "Q-014")
        self.assertEqual(sheet["D2"].value, 580)
        self.assertEqual(self.client.get("/exchange/screens.doc").status_code, 404)


class DraftTests(PageCase):
    def test_a_list_that_waits_is_for_leads_alone(self):
        people = small_shop()
        draft = drafts.bring(SimpleUploadedFile("list.csv", b"Code;Mesh\nR-001;77-48\n"), people["odile"])
        for name, status in (("odile", 200), ("tamsin", 403), ("ines", 403)):
            self.client.force_login(people[name])
            self.assertEqual(self.client.get(f"/exchange/lists/{draft.pk}/").status_code, status, name)
