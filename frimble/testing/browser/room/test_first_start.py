"""From an empty database through the set-up to the first accepted time, by one person at the visible pages."""

from unittest import mock

from django.core import management
from django.test import TestCase
from selenium.webdriver.common.by import By
from selenium.webdriver.support.ui import Select

from frimble.exposures.models import ChartEntry
from frimble.people.first_start import code as first_code
from frimble.people.models import HouseSetting, Person
from frimble.screens.ledger import differences
from frimble.screens.models import Screen
from frimble.testing.browser.steps import StepsCase
from frimble.testing.case import own_data_folder

_PASSWORD = "three quiet herons"


class FirstStartTests(StepsCase):
    def test_from_nothing_to_the_first_calibrated_time(self):
        self._bad_code_and_password_keep_what_was_typed()
        self._lead()
        self._schools()
        self._things()
        self._first_time()
        self.go("/")
        self.assertNotIn("Still missing", self.text())
        self.go("/room/")
        self.sees("The room is set up")
        self.assertEqual(ChartEntry.objects.get().accepted_by, Person.objects.get())
        self.assertEqual(differences(Screen.objects.for_lists().get(frame__code="Q-014")), [])
        self.assertEqual(self.console_errors(), [])

    def test_a_code_lets_a_second_person_in_once(self):
        lead = Person.objects.create_user("odile", password=_PASSWORD, first_name="Odile", role="lead")
        self.go("/people/sign-in/")
        self._sign_in_as(lead)
        self.go("/people/add/")
        self.fill("Name to sign in with", "tamsin")
        self.fill("Name on pages", "Tamsin")
        self.press("Add and make a code")
        self.sees("It is shown only now")
        code = self.driver.find_element(By.CSS_SELECTOR, ".one-time .headline").text
        self.driver.refresh()
        self.assertNotIn(code, self.driver.page_source)
        self.sign_out()
        self.press("I have a one-time code")
        self.fill("One-time code", code.lower().replace("-", " "))
        self.press("Go on")
        self.sees("Hello Tamsin")
        self.fill("New password", "tamsin-tamsi")
        self.fill("The same again", "tamsin-tamsi")
        self.press("Come in")
        self.sees("too similar to the username")
        self.fill("New password", "dry boards lie flat")
        self.fill("The same again", "dry boards lie flat")
        self.press("Come in")
        self.sees("Your password holds from now on.")
        self.sign_out()
        self.go(f"/people/code/{code}/")
        self.sees("This code is not known here, was used, or has ended")

    def _sign_in_as(self, person):
        self.fill("Name", person.username)
        self.fill("Password", _PASSWORD)
        self.press("Sign in")
        self.wait(lambda: self.driver.find_elements(By.ID, "slate"))

    def _bad_code_and_password_keep_what_was_typed(self):
        own_data_folder(self)
        self.code = first_code.make()
        self.go("/")
        self.sees("Code from the terminal")
        self.fill("Code from the terminal", "AAAA-AAAA")
        self.fill("Name to sign in with", "odile")
        self.fill("Your name on pages", "Odile")
        self.fill("New password", "short")
        self.fill("The same again", "short")
        self.fill("Time zone", "Europe/Lisbon")
        self.press("Begin")
        self.sees("This is not the code that the terminal shows.")
        self.assertEqual(self.field("Your name on pages").get_attribute("value"), "Odile")
        self.assertEqual(self.field("Time zone").get_attribute("value"), "Europe/Lisbon")
        self.assertFalse(Person.objects.exists())

    def _lead(self):
        self.fill("Code from the terminal", self.code)
        self.fill("New password", _PASSWORD)
        self.fill("The same again", _PASSWORD)
        self.press("Begin")
        self.sees("Which schools does the house follow?")
        self.assertEqual(HouseSetting.objects.get(key="room.time_zone").value, "Europe/Lisbon")

    def _schools(self):
        self.choose("two-thirds")
        self.press("Follow these")
        self.sees("Set up the room")
        self.assertEqual(HouseSetting.objects.get(key="coat.fill").value, "two-thirds")

    def _things(self):
        self.press("Add a lamp")
        self.fill("Name", "Lantern A")
        self.fill("Kind", "LED")
        self.fill("Lamp to glass", "400")
        self.fill("Start-up lag", "0.3")
        self._kept()
        self.press("Add a film process")
        self.fill("Process", "Inkjet dye")
        self._kept()
        self.press("Add an emulsion")
        self.fill("Name", "Saltern Photopolymer")
        self.fill("Kind", "photopolymer")
        self.fill("Solids", "40")
        self._kept()
        self.press("Write down a batch")
        self.fill("Batch code", "SP-01")
        # The mixing aid above it asks for an emulsion too.
        batch = self.driver.find_element(By.CSS_SELECTOR, "form[method=post] select[name=emulsion]")
        Select(batch).select_by_visible_text("Saltern Photopolymer")
        self._kept()
        self.press("Add a mesh")
        self.fill("Mesh", "77-48")
        self._kept()
        self.press("Draw a rack")
        self.fill("Code", "A")
        self.fill("Name", "Open rack")
        self.fill("Columns", "4")
        self.fill("Rows", "3")
        self.fill("clear width", "680")
        self.fill("clear height", "930")
        self.wait(lambda: len(self.driver.find_elements(By.CSS_SELECTOR, "[data-rack-drawn] .slot")) == 12)
        self._kept()
        self.press("Register screens")
        self.fill("How many", "3")
        self.fill("Code", "Q-014")
        self.fill("Frame", "aluminium")
        self.fill("Outer width", "580")
        self.fill("Outer height", "790")
        self.fill("Mesh", "77-48")
        self._kept()
        self.sees("Choose the screen to test on")

    def _kept(self):
        """Send the form, and go back to what the room still wants."""
        before = self.driver.current_url
        self.driver.find_element(By.CSS_SELECTOR, "main form[method=post] button.main").click()
        answered = ".messages li, .errors"
        self.wait(lambda: self.driver.find_elements(By.CSS_SELECTOR, answered) or self.driver.current_url != before)
        self.assertEqual(self.driver.find_elements(By.CSS_SELECTOR, ".errors, .field-error"), [], self.text())
        self.go("/room/")

    def _first_time(self):
        self.go("/screens/Q-014/")
        self.tension()
        self.coat_and_dry("P1 S1", "fresh.", "SP-01")
        self.step_test()
        self.wash("Read the step test")
        self.read_and_accept("Odile")


class PrintedCodeTests(TestCase):
    def test_the_code_that_serve_prints_is_the_one_the_page_takes(self):
        own_data_folder(self)
        printed = mock.Mock()
        here = "frimble.server.management.commands.serve"
        with mock.patch(f"{here}.waitress.serve"), mock.patch(f"{here}.WatchedWorker"):
            management.call_command("serve", stdout=printed)
        said = "".join(call.args[0] for call in printed.write.call_args_list)
        self.assertTrue(first_code.is_right(said.split()[-1]), said)
