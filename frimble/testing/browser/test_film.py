"""A technician hands in a scan, steps through its findings by keys, accepts one and dismisses one."""

import tempfile
from pathlib import Path

from django.test import override_settings
from django.utils import timezone
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from frimble.films.models import Film, Judgement, ScanCheck
from frimble.films.tests.test_checking import a_scan
from frimble.people.models import Person
from frimble.testing.browser.base import BrowserCase
from frimble.testing.shop import small_shop

_NOW = {"default": {"BACKEND": "django_tasks.backends.immediate.ImmediateBackend"}}


@override_settings(TASKS=_NOW)
class FilmTests(BrowserCase):
    def setUp(self):
        super().setUp()
        small_shop()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        data, self.wedge = a_scan()
        self.path = Path(folder.name) / "pennant.png"
        self.path.write_bytes(data)
        self.sign_in("tamsin")

    def test_an_image_is_dragged_nudged_turned_and_kept(self):
        made = {"made_at": timezone.now(), "made_by": Person.objects.first()}
        film = Film.objects.create(name="Flag", job_number="J-1", width_mm=200, height_mm=100, **made)
        self.go("/film/placement/?job=J-1")
        image = lambda: self.driver.find_element(By.CSS_SELECTOR, "[data-image='0']")  # noqa: E731
        place = lambda: tuple(self.field(f"{side} middle").get_attribute("value") for side in ("Right of", "Below"))  # noqa: E731
        left = self.rect("x")
        ActionChains(self.driver).click_and_hold(image()).move_by_offset(20, -10).move_by_offset(20, -20).perform()
        # Drawn anew by the core while the hand still holds it.
        self.wait(lambda: self.rect("x") > left + 20)
        ActionChains(self.driver).release().perform()
        self.wait(lambda: all(place()))
        right, below = map(float, place())
        self.assertGreater(right, 20)
        self.assertLess(below, -15)
        # Drawn anew, the image is still the one that keys go to.
        drawn = lambda: self.rect("x") + self.rect("width") / 2 - 580 / 2  # noqa: E731
        ready = lambda: self.driver.switch_to.active_element == image()  # noqa: E731
        self.wait(lambda: drawn() == right and ready())
        ActionChains(self.driver).send_keys(Keys.ARROW_RIGHT).perform()
        self.wait(lambda: drawn() == right + 1 and ready())
        ActionChains(self.driver).send_keys("r").perform()
        self.wait(lambda: self.rect("height") == 200)
        self.press("Keep these places")
        self.sees("Kept where Flag lies.")
        film.refresh_from_db()
        self.assertEqual((film.centre_mm, film.turned), ((right + 1, below), True))
        self.assertEqual(self.console_errors(), [])

    def rect(self, attribute):
        """Where or how large the first image is drawn, mm."""
        return float(self.driver.find_element(By.CSS_SELECTOR, "[data-image='0'] rect").get_attribute(attribute))

    def hand_in(self, path, wedge=""):
        self.fill("Resolution", "400")
        self.fill("Wedge", wedge)
        self.driver.find_element(By.NAME, "scan").send_keys(str(path))
        self.press("Check the film")

    def test_from_the_bench_to_a_judged_film(self):
        self.go("/film/processes/")
        self.press("Check a film")
        self.press("Add a film")
        self.fill("Film", "Pennant base")
        self.fill("Job", "j-301")
        self.fill("Made by", "Inkjet dye")
        self.press("Add film")
        self.sees("is on the bench")
        self.hand_in(self.path, self.wedge)
        self.sees("Do not use yet.")
        self.sees("1 pinhole; 1 weak area.")
        self.assertEqual(Film.objects.get().job_number, "J-301")
        self.step_through()
        self.read_under_the_pointer()
        self.judge_both()
        self.assertEqual(self.console_errors(), [])

    def step_through(self):
        chosen = lambda: self.driver.find_element(By.CSS_SELECTOR, "li.chosen").get_attribute("id")  # noqa: E731
        self.wait(lambda: chosen() == "finding-0")
        self.key(Keys.ARROW_RIGHT)
        self.wait(lambda: chosen() == "finding-1")
        self.key(Keys.ARROW_LEFT)
        self.wait(lambda: chosen() == "finding-0")
        # Who unfolds a row chooses it on the film as well; the row chosen before folds.
        row = self.driver.find_element(By.CSS_SELECTOR, "#finding-1 summary")
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", row)
        row.click()
        self.wait(lambda: chosen() == "finding-1")
        unfolded = self.driver.find_elements(By.CSS_SELECTOR, ".findings details[open]")
        self.assertEqual(len(unfolded), 1)
        self.key(Keys.ARROW_LEFT)
        self.wait(lambda: chosen() == "finding-0")
        loupe = self.driver.find_element(By.CSS_SELECTOR, "img.loupe")
        result = ScanCheck.objects.get().result["findings"][0]
        # Source: geometry; the loupe looks at the middle of the finding's box.
        middle = f"x={result['x_mm'] + result['width_mm'] / 2:.2f}&y={result['y_mm'] + result['height_mm'] / 2:.2f}"
        self.wait(lambda: middle in loupe.get_attribute("src"), message=middle)
        self.wait(lambda: self.driver.execute_script("return arguments[0].naturalWidth", loupe) == 400)

    def read_under_the_pointer(self):
        """A solid of density 3.0 reads so where the pointer is; clear film reads clear."""
        for x, y, density in ((50, 30, 3.0), (100, 20, 0.06)):
            self.driver.execute_script(
                "const s = document.querySelector('.film-sheet'), b = s.getBoundingClientRect();"
                "s.dispatchEvent(new PointerEvent('pointermove', {bubbles: true,"
                "clientX: b.left + b.width * arguments[0] / 130, clientY: b.top + b.height * arguments[1] / 60}))",
                x,
                y,
            )
            self.wait(lambda d=density: abs(self.density_told() - d) < 0.12, message=self.text()[:300])

    def density_told(self):
        said = self.driver.find_element(By.CSS_SELECTOR, "[x-text=here]").text
        return float(said.rsplit(" ", 1)[-1]) if "density" in said else -1

    def judge_both(self):
        self.key("a")
        self.sees("· accepted")
        self.wait(lambda: self.driver.find_element(By.CSS_SELECTOR, "li.chosen").get_attribute("id") == "finding-1")
        self.key("d")
        self.type_keys("under the tape", Keys.ENTER)
        self.wait(lambda: Judgement.objects.count() == 2)
        self.assertEqual(list(Judgement.objects.values_list("finding", "accepted")), [(0, True), (1, False)])
        self.sees("· dismissed")
        self.sees("Dismissed: under the tape, Tamsin")

    def test_the_wedge_is_placed_by_two_taps(self):
        film = Film.objects.create(name="Star", made_at="2026-01-01T10:00Z", made_by_id=self.someone())
        self.go(f"/film/films/{film.pk}/")
        self.hand_in(self.path)
        self.sees("No wedge: the scanner's stray light counts")
        self.driver.find_element(By.CSS_SELECTOR, ".again summary").click()
        *place, listed = self.wedge.split(",")
        x, y, patch = map(float, place)
        densities = listed.split("/")
        self.tap_film(x, y)
        self.sees("Type the densities first")
        self.fill("Densities, first patch first", listed)
        self.tap_film(x, y)
        self.sees("Now the far end of the last patch")
        self.tap_film(x + patch * len(densities), y)
        self.sees("See that the squares lie on the patches")
        self.assertAlmostEqual(float(self.field("Side of a patch").get_attribute("value")), patch, delta=0.1)
        drawn = self.driver.find_element(By.CSS_SELECTOR, ".wedge-mark").get_attribute("d")
        self.assertEqual(drawn.count("z"), len(densities))
        self.press("Check again")
        self.wait(lambda: film.checks.filter(state="done").count() == 2)
        self.assertAlmostEqual(film.checks.first().result["dmax"], 3.0, delta=0.06)

    def tap_film(self, x, y):
        self.driver.execute_script(
            "const s = document.querySelector('.film-sheet'), b = s.getBoundingClientRect();"
            "s.dispatchEvent(new PointerEvent('pointerdown', {bubbles: true,"
            "clientX: b.left + b.width * arguments[0] / 130, clientY: b.top + b.height * arguments[1] / 60}))",
            x,
            y,
        )

    def test_a_bad_file_keeps_what_was_typed(self):
        film = Film.objects.create(name="Star", made_at="2026-01-01T10:00Z", made_by_id=self.someone())
        self.go(f"/film/films/{film.pk}/")
        bad = self.path.with_name("words.txt")
        bad.write_text("not a picture")
        self.hand_in(bad, "5,5,8,0.1/0.4/0.9")
        self.sees("PNG, TIFF, JPEG and PDF are accepted")
        self.assertEqual(self.field("Wedge").get_attribute("value"), "5,5,8,0.1/0.4/0.9")
        self.assertFalse(ScanCheck.objects.exists())

    def someone(self):
        return Person.objects.get(username="tamsin").pk
