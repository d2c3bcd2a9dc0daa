"""A stencil is washed out by the timers of its page, fails against the light, and its cause is found by taps; faults are
tapped on its drawing and on the print's.
"""

from datetime import timedelta

from django.core.files.base import ContentFile
from django.test import override_settings
from django.utils import timezone
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from frimble.coatings.coats.services import coat
from frimble.coatings.models import Batch
from frimble.core.coating.drying import Air
from frimble.films.models import Film, ScanCheck
from frimble.people.moments import happened_at
from frimble.press.models import PrintDefect
from frimble.press.services import send_to_press
from frimble.screens.models import Screen
from frimble.stencils.inspecting.photo import services as photo_services
from frimble.stencils.models import ConfirmedCause, FindingDecision, TappedFault, Washout
from frimble.stencils.tests.test_photo import DPI, film_file
from frimble.testing.browser.base import NARROW, BrowserCase
from frimble.testing.case import own_data_folder
from frimble.testing.records import record
from frimble.testing.shop import small_shop

# Of the film that the sheet is drawn from, mm.
_FILM_MM = (90, 110)


class StencilTests(BrowserCase):
    def setUp(self):
        super().setUp()
        self.tamsin = small_shop()["tamsin"]
        then = timezone.now() - timedelta(hours=3)
        with happened_at(then):
            record("Q-014", "degrease", self.tamsin, facts={"look": "clean"}, summary="Degreased")
        with happened_at(then + timedelta(hours=1)):
            coat("Q-014", self.tamsin, formula="P1 S1", batch=Batch.objects.get(), air=Air(20, 0.75))
        with happened_at(then + timedelta(hours=2)):
            # Released by hand, far too early.
            record("Q-014", "air", self.tamsin, facts={"wet_until": then.isoformat()}, summary="Moved")
            record("Q-014", "expose", self.tamsin, summary="Exposed 20 s")
        self.sign_in("tamsin")

    def figure(self):
        return self.driver.find_element(By.CLASS_NAME, "count").text

    def tap_symptom(self, words):
        tile = self.driver.find_element(By.XPATH, f"//label[contains(@class, 'symptom')][contains(., '{words}')]")
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", tile)
        tile.click()

    def test_from_the_latent_image_to_the_cause(self):
        self.go("/stencil/Q-014/wash/")
        self.choose("nothing to see")
        self.sees("No light reached it")
        self.choose("clear: the image")
        self.wait(lambda: "No light reached it" not in self.text())
        self.press("Start the soak")
        self.sees("Soaking: keep it wet")
        # The taps lie on the device: a page that is loaded anew goes on where it was.
        self.go("/stencil/Q-014/wash/")
        self.sees("Soaking: keep it wet")
        self.key("t")
        self.sees("Rinse until every opening passes light")
        # A busy machine may look past any one second.
        self.wait(lambda: int(self.figure()) >= 2)
        self.press("All open: stop")
        self.sees("Shorter than usual. Under-exposed, or still damp inside")
        # What the clock showed is what is recorded.
        rinsed = int(self.field("Rinse").get_attribute("value"))
        self.assertGreaterEqual(rinsed, 2)
        self.press("Record washed out")
        self.sees(f"Shorter than usual: {rinsed} s; nine in ten such stencils take")
        self.assertEqual(Washout.objects.get().rinse_s, rinsed)

        self.go("/stencil/Q-014/inspect/")
        self.choose("fails: reclaim and remake")
        self.press("Record inspection")
        self.sees("Tap what you see")
        self.tap_symptom("Lifts in sheets")
        self.sees("Symptom: lifts in sheets.")
        self.tap_symptom("All washes away")
        self.sees("Coat not dry inside")
        self.sees("shorter than drying takes")
        # The address holds what was tapped: it may be kept or sent.
        self.assertIn("symptoms=lifts_in_sheets", self.driver.current_url)
        self.driver.refresh()
        self.sees("Coat not dry inside")
        self.press("This was it")
        self.sees("The next ones are weighed by it")
        found = ConfirmedCause.objects.get()
        self.assertEqual((found.cause, set(found.symptoms)), ("coat_not_dry", {"lifts_in_sheets", "all_washes_away"}))
        self.assertEqual(self.console_errors(), [])

    def test_an_answer_on_a_phone_weighs_the_causes_anew(self):
        self.resize(NARROW)
        self.go("/stencil/Q-014/wrong/")
        self.tap_symptom("Light lines")
        self.sees("What would tell most: coater's edge")
        self.fill("Coater's edge", "chipped")
        self.wait(lambda: self.driver.find_element(By.CLASS_NAME, "headline").text == "Coater's edge chipped")
        self.assertIn("coater=chipped", self.driver.current_url)
        wide = self.driver.execute_script("return document.documentElement.scrollWidth")
        self.assertLessEqual(wide, NARROW[0])

    def test_a_wash_without_a_network_is_kept_and_sent(self):
        self.go("/stencil/Q-014/wash/")
        self.network(False)
        self.press("Start the soak")
        self.press("Rinse now")
        self.press("All open: stop")
        self.fill("Rinse", "95")
        self.press("Record washed out")
        self.wait(lambda: "Wash out Q-014" in self.driver.find_element(By.TAG_NAME, "body").text)
        self.assertFalse(Washout.objects.exists())
        self.network(True)
        self.wait(Washout.objects.exists)
        self.assertEqual(Washout.objects.get().rinse_s, 95)
        self.wait(lambda: Screen.objects.get(frame__code="Q-014").state == "washed")


class FaultTests(BrowserCase):
    def setUp(self):
        super().setUp()
        place = override_settings(MEDIA_ROOT=own_data_folder(self) / "media")
        place.enable()
        self.addCleanup(place.disable)
        self.tamsin = small_shop()["tamsin"]
        for kind in ("degrease", "coat", "expose", "wash"):
            record("Q-014", kind, self.tamsin, summary=kind)
        made = Film.objects.create(name="Quay", made_at=timezone.now(), made_by=self.tamsin)
        scan = ScanCheck(
            film=made, dpi=DPI, state=ScanCheck.State.DONE, result={"passed": True}, at=timezone.now(), by=self.tamsin
        )
        scan.scan.save("scan", ContentFile(film_file()))
        screen = Screen.objects.for_lists().get(frame__code="Q-014")
        self.sheet = photo_services.by_eye(screen, self.tamsin, scan=scan)
        self.sign_in("tamsin")

    def tap_at(self, x_mm, y_mm):
        """Tap the drawing at a place of the film."""
        drawing = self.wait(lambda: self.driver.find_element(By.CSS_SELECTOR, ".stencil-sheet svg"))
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", drawing)
        size = drawing.size
        off = (x_mm / _FILM_MM[0] - 0.5) * size["width"], (y_mm / _FILM_MM[1] - 0.5) * size["height"]
        ActionChains(self.driver).move_to_element_with_offset(drawing, round(off[0]), round(off[1])).click().perform()

    def open_row(self):
        return [r.get_attribute("id") for r in self.driver.find_elements(By.CSS_SELECTOR, ".fault-row[open]")]

    def test_faults_are_tapped_stepped_through_and_decided(self):
        self.go(f"/stencil/photos/{self.sheet.pk}/")
        self.sees("Tap what you see")
        for number, place in enumerate(((30, 60), (70, 20)), 1):
            self.tap_at(*place)
            self.wait(lambda: self.field("From the left").get_attribute("value"))
            self.press("Mark it")
            self.sees(f"{number} fault")
        # Source: where the drawing was tapped, to a pixel of a picture some 500 px wide.
        first, second = TappedFault.objects.all()
        self.assertAlmostEqual(first.x_mm, 30, delta=0.6)
        self.assertAlmostEqual(first.y_mm, 60, delta=0.6)
        self.assertAlmostEqual(second.x_mm, 70, delta=0.6)
        self.key(Keys.ARROW_RIGHT)
        self.wait(lambda: self.open_row() == ["finding-1"])
        self.driver.switch_to.active_element.send_keys(Keys.ARROW_RIGHT)
        self.wait(lambda: self.open_row() == ["finding-2"])
        self.driver.switch_to.active_element.send_keys(Keys.ARROW_LEFT)
        self.wait(lambda: self.open_row() == ["finding-1"])
        self.press("Blocked with filler")
        self.sees("2 faults, 1 to decide")
        self.assertEqual(FindingDecision.objects.get().finding, 0)
        self.assertEqual(self.console_errors(), [])

    def test_the_print_is_tapped_on_a_phone(self):
        record("Q-014", "inspect", self.tamsin, summary="inspect")
        send_to_press("Q-014", self.tamsin, job=None, went_on="test")
        self.resize(NARROW)
        self.go("/press/Q-014/print/where/")
        self.tap_at(45, 80)
        self.wait(lambda: self.field("From the top").get_attribute("value"))
        self.fill("What", "Part missing")
        self.press("Mark it")
        self.sees("1. Part missing")
        defect = PrintDefect.objects.get()
        self.assertAlmostEqual(defect.x_mm, 45, delta=1)
        self.assertAlmostEqual(defect.y_mm, 80, delta=1)
        self.assertLessEqual(self.driver.execute_script("return document.documentElement.scrollWidth"), NARROW[0])
        self.assertEqual(self.console_errors(), [])
