"""With the server gone: what is recorded meanwhile waits on the device, and is sent in order with its own moments."""

import sqlite3
from datetime import timedelta

from django.utils import timezone
from selenium.common.exceptions import TimeoutException

from frimble.testing.browser.test_killed_server import KilledServerCase

# A tablet that was set by hand, an hour wrong.
AN_HOUR_AHEAD = """
const Right = Date;
window.Date = class extends Right {
  constructor(...given) { if (given.length) super(...given); else super(Right.now() + 3600000); }
  static now() { return Right.now() + 3600000; }
};
"""


class KeptRecordsTests(KilledServerCase):
    def setUp(self):
        super().setUp()
        self.sign_in("tamsin")
        self.wait(lambda: self.driver.execute_script("return Boolean(navigator.serviceWorker.controller)"))

    def records(self, code):
        """(kind, moment) of a screen's records, the newest last, as the database of the killed server holds them."""
        asked = """select e.kind, e.at from screens_screenevent e join screens_meshinstallation m on e.installation_id = m.id
            join screens_frame f on m.frame_id = f.id where f.code = ? order by e.id"""
        with sqlite3.connect(self.folder / "frimble.sqlite3") as database:
            return database.execute(asked, [code]).fetchall()

    def waiting(self):
        return self.driver.execute_script(
            "const kept = document.querySelector('.kept'); return kept.hidden ? '' : kept.innerText"
        )

    def all_sent(self):
        try:
            self.wait(lambda: not self.waiting(), 30)
        except TimeoutException:
            self.fail(self.waiting())

    def seen_ahead(self, *paths):
        """Wait until the worker beside the pages has fetched what can be done to the screen looked at."""
        kept = "const done = arguments[1]; caches.match(arguments[0]).then((hit) => done(Boolean(hit)))"
        for path in paths:
            self.wait(
                lambda path=path: self.driver.execute_async_script(kept, path), message=f"{path} was not fetched."
            )

    def kill(self):
        self.server.kill()
        self.server.wait()

    def measure(self, value):
        self.go("/screens/Q-014/tension/")
        self.driver.find_element("name", "centre_warp_1").send_keys(value)
        self.driver.find_element("name", "centre_weft_1").send_keys(value)

    def test_what_is_recorded_without_a_server_is_sent_in_order_when_it_is_back(self):
        before = len(self.records("Q-014"))
        self.go("/screens/Q-014/")
        self.seen_ahead("/screens/Q-014/tension/", "/screens/Q-014/do/degrease/")
        self.kill()
        gone = timezone.now()
        # A page that was never opened: fetched ahead, when its screen was looked at.
        self.measure("23.8")
        self.sees("Offline: this page is as it was on")
        self.press("Record tension")
        self.wait(lambda: "1 record waits on this device" in self.waiting())
        self.go("/screens/Q-014/do/degrease/")
        self.choose("Rinsed until no foam")
        self.press("Record degreased")
        self.wait(lambda: "2 records wait on this device" in self.waiting())
        self.assertIn("It is sent when the network is back", self.waiting())
        # A reload loses nothing.
        self.go("/screens/Q-014/")
        self.wait(lambda: "2 records wait" in self.waiting())
        back = timezone.now()
        self.server = self.serve()
        self.all_sent()
        new = self.records("Q-014")[before:]
        self.assertEqual([kind for kind, _ in new], ["tension", "degrease"])
        for kind, at in new:
            moment = timezone.datetime.fromisoformat(at).replace(tzinfo=gone.tzinfo)
            self.assertTrue(gone <= moment <= back, f"{kind} is recorded at {moment}, not while the server was gone.")
        self.assertIn("0 differences", self.manage("verify").stdout)

    def test_what_is_refused_is_shown_with_what_was_typed_and_is_sent_from_there(self):
        before = len(self.records("Q-014"))
        self.go("/screens/Q-014/")
        self.seen_ahead("/screens/Q-014/tension/")
        self.kill()
        self.measure("240")
        self.press("Record tension")
        self.wait(lambda: "1 record waits" in self.waiting())
        self.server = self.serve()
        self.wait(lambda: "Not taken: " in self.waiting())
        self.assertEqual(len(self.records("Q-014")), before)
        self.driver.find_element("xpath", "//section[@class='kept']//button[.='Look at it']").click()
        self.sees("Was 24.0 meant?")
        for name in ("centre_warp_1", "centre_weft_1"):
            field = self.driver.find_element("name", name)
            self.assertEqual(field.get_attribute("value"), "240")
            field.clear()
            field.send_keys("24")
        self.press("Record tension")
        self.wait(lambda: self.driver.current_url.endswith("/screens/Q-014/") and self.waiting() == "")
        self.assertEqual([kind for kind, _ in self.records("Q-014")[before:]], ["tension"])

    def test_what_somebody_else_recorded_waits_for_them(self):
        before = len(self.records("Q-014"))
        kept = """const record = {number: crypto.randomUUID(), person: "999", code: "Q-014", path: "/screens/Q-014/tension/",
            what: "Q-014 tension", moment: new Date().toISOString(), fields: []};
            localStorage.setItem("kept-records", JSON.stringify([record]))"""
        self.driver.execute_script(kept)
        self.go("/screens/Q-014/")
        self.wait(lambda: "It is sent when its person signs in here" in self.waiting())
        self.assertEqual(len(self.records("Q-014")), before)
        self.driver.execute_script("localStorage.removeItem('kept-records')")

    def test_a_wrong_clock_moves_no_record_in_time(self):
        script = self.driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": AN_HOUR_AHEAD})
        self.addCleanup(self.driver.execute_cdp_cmd, "Page.removeScriptToEvaluateOnNewDocument", script)
        self.go("/screens/Q-014/")
        self.seen_ahead("/screens/Q-014/tension/")
        self.kill()
        gone = timezone.now()
        self.measure("23.8")
        self.press("Record tension")
        self.wait(lambda: "1 record waits on this device" in self.waiting())
        back = timezone.now()
        self.server = self.serve()
        self.all_sent()
        kind, at = self.records("Q-014")[-1]
        self.assertEqual(kind, "tension")
        moment = timezone.datetime.fromisoformat(at).replace(tzinfo=gone.tzinfo)
        # What the page took to come is not told from the clock's error.
        self.assertTrue(gone - timedelta(seconds=20) < moment < back, f"It is recorded at {moment}, not at {gone}.")

    def test_two_taps_keep_one_record(self):
        self.go("/screens/Q-014/")
        self.seen_ahead("/screens/Q-014/tension/")
        self.kill()
        self.measure("23.8")
        button = self.driver.find_element("xpath", "//button[.='Record tension']")
        self.driver.execute_script("arguments[0].click(); arguments[0].click()", button)
        self.wait(lambda: "1 record waits" in self.waiting())
        self.driver.execute_script("localStorage.removeItem('kept-records')")
