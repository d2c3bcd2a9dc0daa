"""Faults tapped on the print's drawing, and whether what was mended shows."""

from django.core.files.base import ContentFile
from django.test import override_settings
from django.utils import timezone

from frimble.films.models import Film, ScanCheck
from frimble.people import settings as house_settings
from frimble.press.gate import queries as gate_queries
from frimble.press.life import queries as life_queries
from frimble.press.models import PrintDefect
from frimble.press.services import back_from_press
from frimble.press.tests.printed import PrintedCase
from frimble.screens.models import Screen
from frimble.stencils.inspecting.photo import services as photo_services
from frimble.stencils.tests.test_photo import DPI, film_file
from frimble.testing.case import own_data_folder
from frimble.testing.records import record

PAGE = "/press/Q-014/print/where/"


class DefectTests(PrintedCase):
    def setUp(self):
        super().setUp()
        place = override_settings(MEDIA_ROOT=own_data_folder(self) / "media")
        place.enable()
        self.addCleanup(place.disable)

    def screen(self):
        return Screen.objects.for_lists().get(frame__code="Q-014")

    def sheet(self):
        """The film's drawing with one fault that was blocked with filler."""
        made = Film.objects.create(name="Quay", made_at=timezone.now(), made_by=self.tamsin)
        scan = ScanCheck(
            film=made, dpi=DPI, state=ScanCheck.State.DONE, result={"passed": True}, at=timezone.now(), by=self.tamsin
        )
        scan.scan.save("scan", ContentFile(film_file()))
        sheet = photo_services.by_eye(self.screen(), self.tamsin, scan=scan)
        photo_services.tap(sheet, self.tamsin, kind="pinhole", x_mm=30, y_mm=40, size_mm=0.8)
        photo_services.decide(sheet, self.tamsin, finding=0, what="filler")
        return sheet

    def test_a_fault_is_tapped_and_says_where_to_look_first(self):
        self.sheet()
        page = self.client.post(PAGE, {"kind": "missing", "x_mm": "20", "y_mm": "31"}, follow=True)
        self.assertContains(page, "1. Part missing")
        self.assertContains(page, "A blocked opening, or ink dried in the mesh")
        self.assertContains(page, "/stencil/Q-014/wrong/?symptoms=opens_in_parts")

    def test_what_was_mended_is_asked_and_told_on_the_stencils_page(self):
        self.sheet()
        self.assertContains(self.client.get(PAGE), "Does what was mended or left show?")
        for said in ("no", "yes"):
            self.client.post(PAGE, {"fault": "0", "shows": said})
        self.assertEqual([d.shows for d in PrintDefect.objects.all()], [False, True])
        (life,) = life_queries.lives_of(life_queries.cycles_of(self.screen()))
        self.assertEqual(life.shown, 1)
        self.assertContains(self.client.get("/press/Q-014/life/"), "1 place that was mended or left shows")

    def test_bad_places_and_faults_are_refused_with_what_was_typed(self):
        self.sheet()
        page = self.client.post(PAGE, {"kind": "speck", "x_mm": "-2", "y_mm": "31"})
        self.assertContains(page, 'value="-2"', status_code=422)
        page = self.client.post(PAGE, {"fault": "7", "shows": "yes"})
        self.assertContains(page, "not on this stencil", status_code=422)
        self.assertFalse(PrintDefect.objects.exists())

    def test_without_a_drawing_the_page_leads_to_one(self):
        self.assertContains(self.client.get(PAGE), "No drawing of it yet")

    def test_filler_is_asked_again_before_a_reprint(self):
        # Common practice, no source: filler dissolves in ink remover.
        self.sheet()
        back_from_press("Q-014", self.ines, impressions=50)
        record("Q-014", "strip", self.tamsin, summary="strip")
        items = gate_queries.checks(self.screen(), house_settings.current(), timezone.now())
        (pinholes,) = (i for i in items if i.check == "pinholes")
        self.assertTrue(pinholes.due)
        self.assertContains(self.client.get("/press/Q-014/out/"), "Map of its fillers and tapes")
