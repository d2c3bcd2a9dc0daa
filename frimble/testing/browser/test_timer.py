"""The dark-room timer: reload, closed tab, dropped network; the taps as they fell are kept."""

from datetime import timedelta
from uuid import uuid4

from django.utils import timezone

from frimble.coatings.coats.services import coat
from frimble.coatings.models import Batch
from frimble.core.coating.drying import Air
from frimble.exposures.models import Exposure, Lamp, Run
from frimble.exposures.timer.services import start_exposure, take_taps
from frimble.films.models import FilmProcess
from frimble.people import settings as house_settings
from frimble.screens.models import Screen
from frimble.screens.steps.services import degrease, record_mesh_dry
from frimble.testing.browser.base import BrowserCase
from frimble.testing.shop import small_shop

# A network on which the clock is asked for long enough that both taps of a short exposure fall before and after the answer.
SLOW_CLOCK = """
const quick = window.fetch;
window.fetch = async (url, sent) => {
  if (sent?.body === '{"taps":[]}') await new Promise((go) => setTimeout(go, 2000));
  return quick(url, sent);
};
window.tapped = [];
document.addEventListener("click", () => window.tapped.push(performance.now()), true);
"""


class TimerTests(BrowserCase):
    def setUp(self):
        super().setUp()
        people = small_shop()
        tamsin, odile = people["tamsin"], people["odile"]
        degrease("Q-014", tamsin, dwell_s=30)
        record_mesh_dry("Q-014", tamsin)
        coat("Q-014", tamsin, formula="P1 S1", batch=Batch.objects.get(), air=Air(34, 0.4))
        self.made = start_exposure(
            "Q-014",
            odile,
            lamp=Lamp.objects.get(),
            film_process=FilmProcess.objects.get(),
            time_s=60,
            entry=None,
            why="test",
            revision=None,
            override_reason="browser test",
        )
        self.sign_in("tamsin")
        self.path = f"/expose/run/{self.made.pk}/"
        self.go(self.path)

    def change_tab(self):
        """Close the timer's tab and stand in a new one."""
        first = self.driver.current_window_handle
        self.driver.switch_to.new_window("tab")
        second = self.driver.current_window_handle
        self.driver.switch_to.window(first)
        self.driver.close()
        self.driver.switch_to.window(second)

    def start(self):
        struck = timezone.now()
        self.key("t")
        self.wait(lambda: self.made.taps.count() == 1)
        self.lamp_on = struck, timezone.now()

    def assert_since_lamp_on(self, told, before, after):
        """What is told of the time since lamp on fits a moment between two readings of the clock, to a tenth of a second."""
        least, most = before - self.lamp_on[1], after - self.lamp_on[0]
        tenth = timedelta(seconds=0.1)
        self.assertTrue(least - tenth < told < most + tenth, f"{told} is told, {least} to {most} have passed.")

    def test_a_reload_goes_on_counting_from_the_same_moment(self):
        self.start()
        self.wait(lambda: self.light_gone() > 1.5)
        self.driver.refresh()
        self.wait(self.light_gone)
        before = timezone.now()
        shown = timedelta(seconds=self.light_gone())
        self.assert_since_lamp_on(shown, before, timezone.now())
        self.assertEqual(self.made.taps.count(), 1)

    def test_a_closed_tab_leaves_the_timer_running_and_today_leads_back(self):
        self.start()
        self.change_tab()
        self.resize((1280, 800))
        self.go("/")
        self.sees("The timer is open for Q-014")
        self.key("t")
        self.wait(lambda: self.light_gone() > 1)
        self.key("t")
        self.sees("Recorded.")
        exposure = Exposure.objects.get()
        taps = [t.at for t in self.made.taps.all()]
        self.assertAlmostEqual(exposure.given_s, (taps[1] - taps[0]).total_seconds() - 0.3, places=1)

    def test_taps_without_network_are_kept_and_sent_when_it_is_back(self):
        self.start()
        self.wait(lambda: self.light_gone() > 1)
        self.network(False)
        before = timezone.now()
        self.key("t")
        self.sees("No network: 1 tap is kept here")
        tapped = timezone.now()
        self.assertEqual(self.made.taps.count(), 1)
        self.wait(lambda: timezone.now() - tapped > timedelta(seconds=1.5))
        # Even the tab may be closed: the tap waits in this browser.
        self.change_tab()
        self.go(self.path)
        self.sees("Recorded.")
        stop = self.made.taps.last()
        self.assert_since_lamp_on(stop.at - self.made.taps.first().at, before, tapped)
        self.assertGreater(stop.received_at - stop.at, timedelta(seconds=1))
        self.assertEqual(Screen.objects.get(frame__code="Q-014").state, "exposed")

    def test_a_house_that_writes_commas_reads_them_from_its_scripts_too(self):
        # Source: ISO 80000-1, 7.3.2: the decimal sign is a comma or a point on the line.
        house_settings.change("room.decimal", "comma", "so it is here", self.made.made_by, timezone.now())
        self.driver.refresh()
        self.sees("60,3\n")
        self.start()
        self.sees("s gone of 60,3.")
        self.go("/screens/Q-015/tension/")
        self.press("Take reading")
        self.wait(lambda: "Range" in self.text())
        value = self.driver.find_element("name", "centre_warp_1").get_attribute("value")
        # The gauge may happen to read whole newtons.
        self.assertRegex(value, r"^\d+(,\d)?$")
        self.assertRegex(self.text(), r"Range \d+,\d, warp to weft")
        self.assertNotRegex(self.text(), r"\d\.\d")

    def test_a_run_that_gave_no_light_says_so_and_leads_to_a_new_one(self):
        now = timezone.now()
        taps = [(uuid4(), kind, now + timedelta(seconds=s)) for kind, s in (("start", 0), ("stop", 0.2))]
        take_taps(self.made.pk, taps)
        self.driver.refresh()
        self.sees("This run ended without light\n\n0.2")
        self.sees("this lamp takes 0.3 s to start: it gave no light")
        self.press("Begin again")
        self.sees("Expose Q-014")
        self.assertFalse(Exposure.objects.exists())

    def test_a_tap_on_another_device_is_followed(self):
        self.sees("One exposure")
        take_taps(self.made.pk, [(uuid4(), "start", timezone.now())])
        self.wait(self.light_gone)
        self.sees("lamp off next")
        self.key("t")
        self.sees("Recorded.")
        self.assertEqual([tap.kind for tap in self.made.taps.all()], ["start", "stop"])

    def test_the_clock_is_not_corrected_between_two_taps(self):
        script = self.driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": SLOW_CLOCK})
        self.addCleanup(self.driver.execute_cdp_cmd, "Page.removeScriptToEvaluateOnNewDocument", script)
        self.go(self.path)
        self.press("Lamp on")
        self.wait(lambda: self.light_gone() > 4)
        self.press("Lamp off")
        self.sees("Recorded.")
        on, off = self.driver.execute_script("return window.tapped")
        # This lamp starts 0.3 s after it is switched on.
        self.assertAlmostEqual(Exposure.objects.get().given_s, (off - on) / 1000 - 0.3, delta=0.1)

    def test_a_double_tap_and_a_key_held_down_are_one_tap(self):
        self.sees("One exposure")
        double = "const button = document.querySelector('[data-timer]'); button.click(); button.click()"
        self.driver.execute_script("setTimeout(() => {" + double + "}, 400)")
        self.wait(lambda: self.made.taps.count())
        for _ in range(10):
            held = {"type": "keyDown", "key": "t", "text": "t", "autoRepeat": True}
            self.driver.execute_cdp_cmd("Input.dispatchKeyEvent", held)
            shown = self.light_gone()
            self.wait(lambda shown=shown: self.light_gone() > shown + 0.1)
        self.assertEqual([tap.kind for tap in self.made.taps.all()], ["start"])

    def test_a_run_without_light_can_be_given_up_and_one_with_light_cannot(self):
        self.press("Give up this run")
        self.sees("no light was recorded")
        self.assertEqual(Run.objects.get().status, "abandoned")
        self.assertFalse(Exposure.objects.exists())
