"""Headless Chromium against a live server, driven as a person would: by visible labels and keys."""

import shutil
import tempfile
from functools import cache
from multiprocessing.util import Finalize
from pathlib import Path

from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.test import override_settings
from selenium import webdriver
from selenium.common.exceptions import TimeoutException, WebDriverException
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import WebDriverWait

from frimble.demo import loader

FLAGS = (
    "--headless",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--hide-scrollbars",
    "--force-color-profile=srgb",
)
AXE = (Path(__file__).parent / "vendor" / "axe.min.js").read_text()
WIDE, NARROW = (1280, 800), (390, 844)


@cache
def shared_browser():
    """The one browser of this process, closed when the process ends."""
    profile = tempfile.mkdtemp(prefix="frimble-browser-")
    options = webdriver.ChromeOptions()
    options.binary_location = shutil.which("chromium") or "/usr/bin/chromium"
    for flag in (*FLAGS, f"--user-data-dir={profile}"):
        options.add_argument(flag)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    driver = webdriver.Chrome(options=options, service=Service(shutil.which("chromedriver") or "/usr/bin/chromedriver"))
    driver.set_page_load_timeout(60)
    # Ready on every page: to send it to a page that wants it takes ten times as long.
    driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": AXE})
    # A worker of a parallel run leaves without asking `atexit`.
    Finalize(None, _close, (driver, profile), exitpriority=10)
    return driver


def _close(driver, profile):
    driver.quit()
    shutil.rmtree(profile, ignore_errors=True)


class Hands:
    """What a person does at a page: go, type beside a label, press a button, press keys, read."""

    driver = None
    base = ""

    def take_browser(self):
        """The process's browser as if it were new: an empty page of the usual size, online, no cookies, nothing logged."""
        self.driver = shared_browser()
        # No page goes on sending while its test's records are cleared away.
        self.addCleanup(self.driver.get, "about:blank")
        self.driver.get_log("browser")
        self.network(True)
        self.driver.execute_cdp_cmd("Network.clearBrowserCookies", {})
        self.resize(WIDE)

    def network(self, up):
        """The browser with or without a network."""
        self.driver.execute_cdp_cmd("Network.enable", {})
        self.driver.execute_cdp_cmd(
            "Network.emulateNetworkConditions",
            {"offline": not up, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1},
        )

    def go(self, path):
        self.driver.get(self.base + path)

    def resize(self, size):
        width, height = size
        self.driver.execute_cdp_cmd(
            "Emulation.setDeviceMetricsOverride",
            {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": width < 600},
        )

    def wait(self, condition, seconds=60, message=""):
        # While one page gives way to the next, a look may meet neither: look again.
        waiting = WebDriverWait(self.driver, seconds, poll_frequency=0.1, ignored_exceptions=(WebDriverException,))
        return waiting.until(lambda d: condition(), message)

    def do(self, act, message=""):
        """Do it; again where the page gave way to the next, or drew itself anew, under the hand."""

        def done():
            act()
            return True

        self.wait(done, message=message)

    def text(self):
        """The words on the page; none while one page gives way to the next."""
        try:
            return self.driver.execute_script("return document.querySelector('main')?.innerText ?? ''")
        except WebDriverException:
            return ""

    def sees(self, words):
        """Wait until the words stand on the page."""
        try:
            self.wait(lambda: words in self.text())
        except TimeoutException:
            raise AssertionError(f"“{words}” is not on the page: {self.text()[:1500]}") from None

    def field(self, label):
        """The form control that a visible label names."""
        return self.wait(lambda: self._labelled(label), message=f"No field is labelled “{label}”.")

    def _labelled(self, label):
        for result in self.driver.find_elements(By.XPATH, f"//label[contains(normalize-space(.), {_quoted(label)})]"):
            if result.is_displayed():
                target = result.get_attribute("for")
                if target:
                    return self.driver.find_element(By.ID, target)
                return result.find_element(By.TAG_NAME, "input")
        return None

    def fill(self, label, value):
        """Type into the field with this label, or choose there."""

        def type_it():
            control = self.field(label)
            if control.tag_name == "select":
                control.find_element(By.XPATH, f"./option[contains(., {_quoted(value)})]").click()
            else:
                control.clear()
                control.send_keys(value)

        self.do(type_it, f"“{label}” does not take “{value}”.")

    def choose(self, label):
        """Tap the radio or tick box with this label."""

        def tap_it():
            control = self.field(label)
            self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", control)
            control.click()

        self.do(tap_it, f"“{label}” cannot be tapped.")

    def press(self, words):
        """Press the visible button or link with these words; wait for the new page when it leads to one."""
        # The heading of what is aside is no button but on a phone.
        kinds = "self::button or self::a or self::summary[not(parent::*[@data-aside])]"
        xpath = f"//main//*[{kinds}][contains(normalize-space(.), {_quoted(words)})]"

        def press_it():
            shown = self.wait(lambda: [e for e in self.driver.find_elements(By.XPATH, xpath) if _takes_a_tap(e)])
            self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", shown[0])
            shown[0].click()

        self.do(press_it, f"No button says “{words}”.")

    def type_keys(self, *keys):
        for key in keys:
            self.do(lambda k=key: self.driver.switch_to.active_element.send_keys(k))

    def key(self, letter):
        """One key at the page itself, with no field in focus."""

        def strike_it():
            self.wait(lambda: not self.driver.find_elements(By.CSS_SELECTOR, "[data-timer][aria-disabled]"))
            self.driver.execute_script("document.activeElement.blur()")
            self.driver.find_element(By.TAG_NAME, "body").send_keys(letter)

        self.do(strike_it)

    def light_gone(self):
        """Seconds of light, as the timer says them; 0 before there is any."""
        before, gone, _ = self.text().partition(" s gone of ")
        return float(before.split()[-1]) if gone else 0.0

    def slate(self, text):
        """`/`, type or scan, Enter."""
        self.key("/")
        self.wait(lambda: self.driver.switch_to.active_element.get_attribute("id") == "slate")
        self.type_keys(text, Keys.ENTER)

    def sign_in(self, name):
        self.go("/people/sign-in/")
        self.fill("Name", name)
        self.fill("Password", loader.password_of(name))
        self.press("Sign in")
        self.wait(lambda: self.driver.find_elements(By.ID, "slate"))

    def sign_out(self):
        self.do(lambda: self.driver.find_element(By.XPATH, "//button[normalize-space(.)='Sign out']").click())
        self.wait(lambda: self.driver.find_elements(By.NAME, "password"))

    def console_errors(self):
        """What the browser complained of since the last look, but for refused forms, which answer 422."""
        return [
            entry["message"]
            for entry in self.driver.get_log("browser")
            if entry["level"] == "SEVERE" and "status of 422" not in entry["message"]
        ]

    def axe_violations(self, *rules):
        """What axe finds on the page: by all its rules, or by the named ones alone."""
        # There are no frames, and no rule about turned devices wants the style sheets again.
        options = {"resultTypes": ["violations"], "iframes": False, "preload": False}
        if rules:
            options["runOnly"] = list(rules)
        result = self.driver.execute_async_script(
            "const [options, done] = arguments; axe.run(options).then(r => done(r.violations))", options
        )
        return [f"{v['id']}: {v['nodes'][0]['html'][:200]}" for v in result]


def _quoted(words):
    return f'"{words}"'


def _takes_a_tap(element):
    """Whether it is shown, and no timer's button that has just been tapped."""
    return element.is_displayed() and not element.get_attribute("aria-disabled")


@override_settings(ALLOWED_HOSTS=["*"])
class BrowserCase(Hands, StaticLiveServerTestCase):
    """A live server, the process's browser, and a fresh cookie jar for each test."""

    host = "127.0.0.1"

    def setUp(self):
        self.take_browser()
        self.base = self.live_server_url
        # What a test before kept on the device is nobody's.
        self.driver.execute_cdp_cmd(
            "Storage.clearDataForOrigin", {"origin": self.base, "storageTypes": "local_storage"}
        )
