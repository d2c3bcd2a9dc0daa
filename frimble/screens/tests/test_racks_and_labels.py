"""Racks defined, walked and written down anew; labels that a reader reads; searching."""

import cv2
import numpy as np
import pypdfium2

from frimble.core.conclusions import InvalidInput
from frimble.core.storage.racks import why_not
from frimble.people import settings as house_settings
from frimble.screens.ledger import differences
from frimble.screens.models import Rack, SavedSearch, Screen, Slot
from frimble.screens.racks import queries as rack_queries
from frimble.screens.racks import services as rack_services
from frimble.screens.racks.facts import free_slots, screen_facts, slot_facts
from frimble.testing.case import PageCase
from frimble.testing.records import record
from frimble.testing.shop import small_shop
from frimble.ui import labels


class RackTests(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.client.force_login(self.people["odile"])

    def define(self, **typed):
        given = {
            "code": "f",
            "name": "Far wall",
            "columns": "3",
            "rows": "2",
            "width_mm": "68 cm",
            "height_mm": "93 cm",
        }
        return self.client.post("/screens/rack/define/", given | typed)

    def put(self, code, slot):
        rack_services.place(code, Slot.objects.select_related("rack").get(code=slot), self.people["tamsin"])

    def slots(self):
        return dict(Screen.objects.values_list("frame__code", "slot__code"))

    def test_a_rack_is_defined_and_taken_down_only_when_empty(self):
        self.assertRedirects(self.define(dark="on", level="on"), "/screens/rack/")
        rack = Rack.objects.get(code="F")
        self.assertEqual([s.code for s in rack.slots.all()][:2], ["F-01", "F-02"])
        self.assertEqual(rack.slots.get(code="F-04").row, 2)
        for typed, word in (
            ({}, "is called F already"),
            ({"code": "G", "columns": "99"}, "Columns"),
            ({"code": "H", "columns": "30", "rows": "30"}, "more than 400"),
            ({"code": "I", "width_mm": "5 mm"}, "A slot"),
        ):
            self.assertContains(self.define(**typed), word, status_code=422)
        self.put("Q-014", "F-01")
        self.assertContains(
            self.client.post(f"/screens/rack/{rack.pk}/", {"name": "x", "remove": "1"}),
            "empty it first",
            status_code=422,
        )
        self.put("Q-014", "A-01")
        self.client.post(f"/screens/rack/{rack.pk}/", {"name": "x", "remove": "1"})
        self.assertFalse(Rack.objects.filter(code="F").exists())

    def test_a_field_with_two_faults_tells_both_in_one_place(self):
        # Source: HTML, the id attribute: an id is one element's, and the field is described by it.
        page = self.define(code="b < a much too long code")
        self.assertContains(page, 'class="field-error"', 2, status_code=422)
        self.assertContains(page, 'id="id_code_error"', 1, status_code=422)

    def test_free_by_size_and_the_slot_that_is_offered(self):
        self.define(code="G", width_mm="70 cm", height_mm="95 cm")
        self.put("Q-014", "A-01")
        self.assertEqual(
            rack_queries.free_by_size(),
            [((680, 930), False, 2, 3), ((680, 930), True, 3, 3), ((700, 950), False, 6, 6)],
        )
        self.assertContains(self.client.get("/screens/rack/"), "2 of 3")
        screen = Screen.objects.for_lists().get(frame__code="Q-015")
        self.assertEqual(rack_queries.best_slot(screen).code, "A-02")
        record("Q-015", "degrease", self.people["tamsin"], summary="d")
        record("Q-015", "coat", self.people["tamsin"], summary="c", facts={"layer": 1, "layers": 1})
        # Common practice, no source. Coated screens in dark places only.
        self.assertEqual(rack_queries.best_slot(Screen.objects.for_lists().get(frame__code="Q-015")).code, "D-01")

    def test_free_slots_counted_by_kind_are_those_looked_at_one_by_one(self):
        settings, counts = house_settings.current(), set()
        for screen in Screen.objects.for_lists():
            there = screen_facts(screen)
            free = Slot.objects.filter(screen__isnull=True).select_related("rack")
            one_by_one = sum(not why_not(there, slot_facts(slot, None), settings) for slot in free)
            self.assertEqual(sum(n for slot, n in free_slots() if not why_not(there, slot, settings)), one_by_one)
            counts.add(one_by_one)
        self.assertGreater(max(counts), 0)

    def test_a_wet_coat_lies_level(self):
        self.define(code="U", dark="on")
        self.define(code="L", dark="on", level="on")
        record("Q-014", "degrease", self.people["tamsin"], summary="d")
        late = {"layer": 1, "layers": 1, "wet_until": "2999-01-01T00:00:00+00:00"}
        record("Q-014", "coat", self.people["tamsin"], summary="c", facts=late)
        page = self.client.post("/screens/Q-014/place/", {"slot": "U-01", "revision": 2, "note": ""})
        self.assertContains(page, "lay it level, print side down", status_code=422)
        self.client.post("/screens/Q-014/place/", {"slot": "L-01", "revision": 2, "note": ""})
        self.assertEqual(self.slots()["Q-014"], "L-01")

    def test_a_walk_is_compared_and_written_down(self):
        self.put("Q-014", "A-01")
        self.put("Q-015", "A-02")
        address = f"/screens/rack/{Rack.objects.get(code='A').pk}/walk/"
        seen = "a-01 q-015\nA-02 Q-014\n\nA-03, X-77"
        page = self.client.post(address, {"walk": seen})
        self.assertContains(page, "stands in A-01, written down in A-02")
        self.assertContains(page, "X-77")
        self.client.post(address, {"walk": seen, "write": "1"})
        self.assertEqual((self.slots()["Q-015"], self.slots()["Q-014"]), ("A-01", "A-02"))
        self.client.post(address, {"walk": "A-01\nA-02 Q-014", "write": "1"})
        self.assertIsNone(self.slots()["Q-015"])
        self.assertEqual([d for s in Screen.objects.for_lists() for d in differences(s)], [])

    def test_a_walk_that_cannot_be_is_told_with_its_line(self):
        rack = Rack.objects.get(code="A")
        for text, word in (("Z-01 Q-014", "Line 1"), ("A-01 Q-014\nA-01 Q-015", "Line 2"), ("", "Scan a slot")):
            with self.assertRaisesMessage(InvalidInput, word):
                rack_queries.read_walk(text, rack)


class LabelTests(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.client.force_login(self.people["tamsin"])

    def read(self, picture):
        return cv2.QRCodeDetector().detectAndDecode(picture)[0]

    def page_of(self, data, scale=6):
        return np.ascontiguousarray(
            pypdfium2.PdfDocument(data)[0].render(scale=scale, grayscale=True).to_numpy().squeeze()
        )

    def test_a_reader_reads_every_label_of_a_sheet(self):
        # Source: OpenCV's QR reader, another program than the writer's.
        data = self.client.get("/screens/labels.pdf?codes=Q-014+Q-015&sheet=a4-8&start=2").content
        page = self.page_of(data, 3)
        high, wide = page.shape

        def cell(column, row):
            part = page[row * high // 4 : (row + 1) * high // 4, column * wide // 2 : (column + 1) * wide // 2]
            return np.ascontiguousarray(part)

        self.assertEqual(self.read(cell(1, 0)), "Q-014")
        self.assertEqual(self.read(cell(0, 1)), "Q-015")
        self.assertEqual(int(cell(0, 0).min()), 255)

    def test_a_smeared_label_is_still_read(self):
        page = self.page_of(labels.as_pdf([labels.Label("Q-014", "43-80", "58 x 79 cm")], labels.SHEETS["roll"]))
        high = page.shape[0]
        # Source: ISO/IEC 18004, level Q restores a quarter of the codewords; a spot over some 3 % of the modules.
        page[int(high * 0.5) : int(high * 0.62), int(high * 0.5) : int(high * 0.62)] = 255
        self.assertEqual(self.read(page), "Q-014")

    def test_runs_unknown_codes_and_places(self):
        page = self.client.get("/screens/labels/?codes=Q-001..Q-020&sheet=a4-24&start=1")
        self.assertContains(page, "labels, the first as it will be")
        for query, word in (
            ("codes=NO-1&sheet=a4-24&start=1", "No screen is called NO-1"),
            ("codes=Q-014&sheet=a4-24&start=99", "has 24 places"),
        ):
            self.assertContains(self.client.get(f"/screens/labels.pdf?{query}"), word, status_code=422)
        svg = self.client.get("/screens/Q-014/label.svg").content.decode()
        self.assertIn('width="70mm"', svg)
        self.assertIn("Q-014", svg)
        letter = self.client.get("/screens/labels.pdf?codes=Q-014&sheet=letter-30&start=1").content
        self.assertEqual(pypdfium2.PdfDocument(letter)[0].get_size(), (612, 792))


class SearchTests(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.client.force_login(self.people["tamsin"])

    def codes(self, query):
        return [s.code for s in self.client.get(f"/screens/?{query}").context["page"]]

    def test_by_code_mesh_size_state_tension_place_and_due(self):
        everything = self.codes("")
        self.assertIn("Q-014", everything)
        self.assertEqual(self.codes("text=q-014"), ["Q-014"])
        self.assertEqual(self.codes("text=77-55"), ["Q-063"])
        self.assertEqual(self.codes("size=79+x+58+cm"), everything)
        self.assertEqual(self.codes("size=66+x+91+cm"), [])
        Screen.objects.filter(frame__code="Q-015").update(tension_n_per_cm=17)
        Screen.objects.filter(frame__code="Q-014").update(tension_n_per_cm=24)
        self.assertEqual(self.codes("least=20&most=25"), ["Q-014"])
        self.assertEqual(self.codes("due=slack"), ["Q-015"])
        self.assertEqual(self.codes("order=tension&least=1"), ["Q-015", "Q-014"])
        record("Q-014", "degrease", self.people["tamsin"], summary="d")
        self.assertEqual(self.codes("state=degreased"), ["Q-014"])
        self.assertNotIn("Q-014", self.codes("due=place"))

    def test_absurd_questions_are_told(self):
        for query, word in (
            ("least=30&most=20", "above the most"),
            ("size=big", "58 x 79 cm"),
            ("least=x", "not a number"),
        ):
            self.assertContains(self.client.get(f"/screens/?{query}"), word, status_code=422)

    def test_looks_are_kept_and_forgotten(self):
        self.client.post("/screens/look/", {"name": "slack ones", "query": "due=slack"})
        self.assertContains(self.client.get("/screens/"), "slack ones")
        self.client.force_login(self.people["odile"])
        self.assertNotContains(self.client.get("/screens/"), "slack ones")
        self.client.force_login(self.people["tamsin"])
        self.client.post("/screens/look/", {"forget": SavedSearch.objects.get().pk, "query": ""})
        self.assertFalse(SavedSearch.objects.exists())
