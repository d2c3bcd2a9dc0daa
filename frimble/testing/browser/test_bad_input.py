"""What a person sees when something is wrong: the message beside the field, everything typed kept, nothing written."""

from selenium.webdriver.common.by import By

from frimble.coatings.models import Coat, Emulsion
from frimble.demo import loader
from frimble.exposures.models import Exposure, Lamp, Run
from frimble.jobs.models import Job
from frimble.jobs.upkeep.models import Handover
from frimble.people.models import Person, Session
from frimble.screens.models import Screen, ScreenEvent
from frimble.screens.steps.services import degrease, record_mesh_dry
from frimble.testing.browser.base import NARROW, BrowserCase
from frimble.testing.shop import small_shop

# The flash lasts a few seconds; however late one looks, it has been seen.
WATCH_FOR_A_FLASH = """
const seen = () => { window.flashed ||= Boolean(document.querySelector(".runner.flash")); };
new MutationObserver(seen).observe(document.body, { attributes: true, subtree: true, attributeFilter: ["class"] });
"""


class BadInputTests(BrowserCase):
    def setUp(self):
        super().setUp()
        self.people = small_shop()
        self.sign_in("tamsin")

    def test_a_slip_of_the_point_is_asked_beside_its_field(self):
        self.go("/screens/Q-014/tension/")
        self.press("Take reading")
        self.wait(lambda: "Range" in self.text())
        slip = self.driver.find_element(By.NAME, "centre_warp_1")
        slip.clear()
        slip.send_keys("240")
        self.driver.find_element(By.NAME, "note").send_keys("after the hot crate")
        self.press("Record tension")
        self.sees("Was 24.0 meant?")
        kept = {n: self.driver.find_element(By.NAME, n).get_attribute("value") for n in ("centre_warp_1", "note")}
        self.assertEqual(kept, {"centre_warp_1": "240", "note": "after the hot crate"})
        beside = self.driver.find_element(By.XPATH, "//fieldset[contains(., 'Was 24.0 meant?')]/legend").text
        self.assertEqual(beside, "Centre")
        self.assertFalse(ScreenEvent.objects.exists())

    def test_whoever_was_signed_out_meanwhile_signs_in_and_sends_what_was_typed(self):
        self.go("/screens/Q-014/tension/")
        for name in ("centre_warp_1", "centre_weft_1"):
            self.driver.find_element(By.NAME, name).send_keys("23.8")
        self.driver.find_element(By.NAME, "note").send_keys("after the hot crate")
        Session.objects.all().delete()
        self.press("Record tension")
        self.sees("what was typed waits here")
        self.fill("Name", "tamsin")
        self.fill("Password", "wrong")
        self.press("Sign in")
        self.sees("Name and password do not match")
        self.fill("Password", loader.password_of("tamsin"))
        self.press("Sign in")
        self.press("Send it now")
        self.wait(lambda: ScreenEvent.objects.exists())
        event = ScreenEvent.objects.get()
        self.assertEqual((event.kind, event.note, event.by), ("tension", "after the hot crate", self.people["tamsin"]))

    def test_a_name_of_one_long_word_widens_no_page(self):
        long = "Donaudampfschifffahrtsgesellschaftskapitaenswimpelanniversary"
        Person.objects.update(first_name=long[:40])
        for model in (Job, Lamp, Emulsion):
            model.objects.update(name=long[: model._meta.get_field("name").max_length])
        self.resize(NARROW)
        for path in ("/", "/jobs/", "/jobs/J-301/", "/expose/lamps/", "/coat/batches/", "/people/"):
            self.go(path)
            self.assertIn(long[:20], self.driver.find_element(By.TAG_NAME, "body").text)
            wide = self.driver.execute_script("return document.documentElement.scrollWidth")
            self.assertLessEqual(wide, NARROW[0], path)

    def test_an_impatient_second_tap_records_nothing_twice(self):
        self.go("/handover/")
        self.fill("What to watch", "the sink leaks")
        button = self.driver.find_element(By.XPATH, "//form[.//h2[.='Hand over now']]//button")
        self.driver.execute_script("const one = arguments[0]; one.click(); setTimeout(() => one.click(), 40)", button)
        self.sees("the sink leaks")
        self.go("/handover/")
        self.assertEqual(Handover.objects.count(), 1)

    def test_a_formula_tells_where_it_does_not_parse_while_typing(self):
        degrease("Q-014", self.people["tamsin"], dwell_s=30)
        record_mesh_dry("Q-014", self.people["tamsin"])
        self.go("/coat/Q-014/")
        self.fill("Coat formula", "P1 Q2")
        self.sees("Character 4, “Q”")
        self.fill("Coat formula", "P1 S2")
        self.sees("2 strokes on the squeegee side")

    def test_two_people_on_one_screen(self):
        self.go("/screens/Q-014/do/degrease/")
        self.fill("Note", "my own words")
        degrease("Q-014", self.people["bertrand"], dwell_s=25)
        self.choose("Rinsed until no foam")
        self.press("Record degreased")
        self.sees("While this page was open: Bertrand")
        self.assertEqual(self.field("Note").get_attribute("value"), "my own words")
        self.assertEqual(ScreenEvent.objects.count(), 1)
        self.press("Record degreased")
        self.sees("Still wet")
        self.assertEqual(ScreenEvent.objects.count(), 2)

    def test_the_lead_goes_on_regardless_with_a_reason_that_is_kept(self):
        degrease("Q-014", self.people["tamsin"], dwell_s=30)
        self.go("/coat/Q-014/")
        self.sees("Still wet")
        self.sees("The lead may go on regardless")
        self.assertFalse(self.driver.find_elements(By.NAME, "formula"))
        self.sign_out()
        self.sign_in("odile")
        self.go("/coat/Q-014/")
        self.fill("Coat formula", "P1 S1")
        self.fill("Emulsion batch", "SD-08")
        self.press("Record coat")
        self.sees("Still wet")
        self.assertFalse(Coat.objects.exists())
        self.fill("Go on regardless", "blown dry with air")
        self.press("Record coat")
        self.sees("Went on regardless: blown dry with air")

    def test_the_press_is_told_what_it_may_not_record(self):
        self.sign_out()
        self.sign_in("ines")
        self.go("/screens/Q-014/do/degrease/")
        self.sees("Technicians and leads record this; you may look.")
        self.sees("Degreaser dwell")
        self.assertNotIn("Record degreased", self.text())

    def test_a_slot_that_is_taken_is_said_and_free_ones_fill_the_form(self):
        self.go("/screens/Q-015/place/")
        self.fill("Slot", "A-01")
        self.press("Send to rack")
        self.sees("Q-015: Put in slot A-01")
        self.go("/screens/Q-014/place/")
        self.fill("Slot", "A-01")
        self.press("Send to rack")
        self.sees("Slot A-01 holds Q-015")
        self.driver.find_element(By.ID, "slot-A-02").click()
        self.wait(lambda: self.field("Slot").get_attribute("value") == "A-02")


class PhoneTests(BrowserCase):
    """The exposure by touch alone on a phone, with a lamp that warms up."""

    def setUp(self):
        super().setUp()
        self.people = small_shop()
        odile = self.people["odile"]
        Lamp.objects.update(warm_up_s=90)
        degrease("Q-014", odile, dwell_s=30)
        record_mesh_dry("Q-014", odile)
        self.resize(NARROW)
        self.sign_in("odile")

    def test_coat_expose_and_record_by_touch(self):
        self.go("/screens/Q-014/")
        self.press("Coat")
        self.fill("Coat formula", "P1 S1")
        self.fill("Emulsion batch", "SD-08")
        self.press("Record coat")
        self.sees("Do not expose yet")
        self.go("/expose/Q-014/")
        self.sees("No calibrated time")
        self.press("Expose with a time of your own")
        self.fill("A time of your own", "4")
        self.fill("Why this time", "a try")
        self.choose("Dry: no tack")
        self.fill("Go on regardless", "touch test")
        self.press("Go to the timer")
        self.sees("warm up first")
        self.press("Warm up")
        self.sees("this does not count")
        self.wait(lambda: Run.objects.get().taps.count() == 1)
        self.driver.execute_script(WATCH_FOR_A_FLASH)
        self.press("Shutter open")
        self.wait(lambda: self.driver.execute_script("return window.flashed"), message="no flash before the end")
        self.press("Lamp off")
        self.sees("Recorded.")
        exposure = Exposure.objects.get()
        taps = [t.at for t in Run.objects.get().taps.all()]
        # The warm-up does not count, nor the lamp's lag of 0.3 s.
        self.assertAlmostEqual(exposure.given_s, (taps[2] - taps[1]).total_seconds() - 0.3, places=1)
        self.assertEqual(Screen.objects.get(frame__code="Q-014").state, "exposed")


class StrangerTests(BrowserCase):
    def test_a_wrong_password_keeps_the_name(self):
        small_shop()
        self.go("/people/sign-in/")
        self.fill("Name", "tamsin")
        self.fill("Password", "not this one")
        self.press("Sign in")
        self.sees("do not match")
        self.assertEqual(self.field("Name").get_attribute("value"), "tamsin")
