"""What must hold on every page of the demo shop: no axe finding, no sideways scroll, no blue in safelight, no outsider."""

import io
from itertools import chain

from django.utils import timezone
from PIL import Image

from frimble.demo import loader
from frimble.people.models import Person
from frimble.screens.models import Rack
from frimble.testing.browser.base import NARROW, WIDE, BrowserCase
from frimble.testing.browser.pages import every_page
from frimble.testing.kept import kept_database
from frimble.testing.records import open_run

# Source: WCAG 2.2, 1.4.10: nothing scrolls sideways at a width of 320 CSS pixels, which is also 1280 at four times the size.
_NARROWEST = (320, 800)
# Every colour that paints something, of every visible element and its drawn pseudo-elements.
_BLUE = """
const found = [];
const names = ['color', 'backgroundColor', 'borderTopColor', 'borderRightColor', 'borderBottomColor', 'borderLeftColor',
  'outlineColor', 'textDecorationColor', 'caretColor', 'fill', 'stroke', 'stopColor', 'columnRuleColor'];
for (const node of document.querySelectorAll('html, body, body *')) {
  if (node.checkVisibility && !node.checkVisibility()) continue;
  for (const pseudo of [null, '::before', '::after', '::placeholder', '::selection']) {
    const style = getComputedStyle(node, pseudo);
    for (const name of names) {
      const match = /rgba?\\((\\d+), (\\d+), (\\d+)(?:, ([\\d.]+))?\\)/.exec(style[name] || '');
      const where = `${node.tagName}.${node.className.baseVal ?? node.className} ${pseudo || ''}`;
      if (match && Number(match[3]) > 0 && match[4] !== '0') found.push(`${where} ${name} ${style[name]}`);
    }
  }
}
return [...new Set(found)].slice(0, 12);
"""
# What an id belongs to twice, and what labels and descriptions look for in vain.
_ASTRAY = """
const ids = [...document.querySelectorAll('[id]')].map((node) => node.id);
const wanted = [...document.querySelectorAll('label[for], [aria-describedby], [aria-labelledby]')].flatMap((node) =>
  ['for', 'aria-describedby', 'aria-labelledby'].flatMap((name) => (node.getAttribute(name) ?? '').split(/\\s+/)));
return [...ids.filter((id, n) => ids.indexOf(id) !== n).map((id) => `the id ${id} is there twice`),
  ...wanted.filter((id) => id && !ids.includes(id)).map((id) => `nothing has the id ${id}`)];
"""


def make_pages():
    """The made-up shop with something on every page, and a run for the timer's page."""
    loader.load(timezone.now())
    run = open_run("Q-006")
    return every_page() | {"timer": f"/expose/run/{run.pk}/"}


class EveryPageCase(BrowserCase):
    def setUp(self):
        super().setUp()
        self.pages = kept_database("every page", make_pages)
        self.sign_in("odile")

    def blue_pixels(self):
        picture = Image.open(io.BytesIO(self.driver.get_screenshot_as_png())).convert("RGB")
        _, most = picture.getchannel("B").getextrema()
        bright = picture.getchannel("R").getextrema()[1]
        # A page that drew nothing would have no blue either.
        problems = [] if bright > 200 else ["nothing is drawn"]
        return problems + ([f"a pixel has blue {most}"] if most else [])


class FirstPagesTests(EveryPageCase):
    """Every other page; the rest beside them, in another process."""

    every_other = slice(0, None, 2)

    def test_no_page_has_faults(self):
        """Looked at in safelight, then turned to day, which changes the colours alone: the server is asked once a page."""
        Person.objects.filter(username="odile").update(light="safelight")
        problems = []
        for name, path in list(self.pages.items())[self.every_other]:
            self.go(path)
            checks = (
                self._outside(),
                self._astray(),
                self._sideways(),
                self._blue(),
                self.axe_violations(),
                self._by_day(),
            )
            problems += [f"{name}: {problem}" for problem in chain(*checks)]
        self.assertEqual(problems, [])
        complaints = [c for c in self.console_errors() if "/find/" not in c]
        self.assertEqual(complaints, [])

    def _outside(self):
        loaded = self.driver.execute_script("return performance.getEntriesByType('resource').map(e => e.name)")
        return [f"asks outside for {url}" for url in loaded if not url.startswith(self.live_server_url)]

    def _astray(self):
        # Source: HTML, the id attribute and the label element: an id is one element's, and a label names one that is there.
        return self.driver.execute_script(_ASTRAY)

    def _sideways(self):
        problems = []
        for size in (_NARROWEST, NARROW, WIDE):
            self.resize(size)
            # Not against innerWidth: a phone's browser widens that to whatever the page asks for.
            over = self.driver.execute_script("return document.documentElement.scrollWidth") - size[0]
            problems += [f"at {size[0]} px scrolls sideways by {over} px"] if over > 0 else []
        return problems

    def _blue(self):
        return self.driver.execute_script(_BLUE) + self.blue_pixels()

    def _by_day(self):
        self.driver.execute_script("document.documentElement.dataset.light = 'day'")
        return [f"by day: {v}" for v in self.axe_violations("color-contrast")]


class OtherPagesTests(FirstPagesTests):
    every_other = slice(1, None, 2)

    def test_the_timer_is_in_safelight_whoever_looks(self):
        self.go(self.pages["timer"])
        self.assertEqual(Person.objects.get(username="odile").light, "day")
        self.assertEqual(self.blue_pixels(), [])


# Source: xkb-data, symbols/de and symbols/fr: what the keys that write Q-022 on an American keyboard write there.
KEYS_OF_Q_022 = {"de": "Qß022", "fr": "A)àéé"}


class KeyTests(BrowserCase):
    def setUp(self):
        super().setUp()
        kept_database("every page", make_pages)
        self.sign_in("tamsin")

    def test_stops_light_help_and_scanner_by_keys_alone(self):
        self.key("0")
        self.sees("Tap a screen for its passport")
        self.key("l")
        self.wait(lambda: "Daylight" in self.driver.find_element("class name", "person").text)
        self.assertEqual(Person.objects.get(username="tamsin").light, "safelight")
        self.key("?")
        self.wait(lambda: self.driver.find_element("id", "keys").is_displayed())
        self.assertIn("slate: scan or type", self.driver.find_element("id", "keys").text)

    def test_a_scan_opens_the_passport_and_fills_an_open_form(self):
        self.scan("Q-022")
        self.sees("32-100 white")
        self.go("/screens/Q-014/place/")
        self.scan("A-30")
        self.wait(lambda: self.field("Slot").get_attribute("value") == "A-30")

    def test_a_scanner_of_another_keyboard_than_the_computers_is_understood(self):
        for read in KEYS_OF_Q_022.values():
            self.go("/")
            self.scan("Q-022", read)
            self.wait(lambda: self.driver.current_url.endswith("/screens/Q-022/"))
            self.go("/")
            self.scan("Q-022", read, into="#slate")
            self.wait(lambda: self.driver.current_url.endswith("/screens/Q-022/"))

    def test_a_scanner_of_the_computers_own_keyboard_is_taken_as_read(self):
        # Source: xkb-data, symbols/de: the dash lies where the American keyboard has its slash.
        self.scan("Q/022", "Q-022", ends="Tab")
        self.wait(lambda: self.driver.current_url.endswith("/screens/Q-022/"))

    def test_a_scan_taken_by_a_field_is_over(self):
        self.go(f"/screens/rack/{Rack.objects.get(code='A').pk}/walk/")
        for code, read in (("A-02", "Aß02"), ("Q-022", KEYS_OF_Q_022["de"])):
            self.scan(code, read, into="#scan-here")
        self.assertEqual(self.field("Slot after slot").get_attribute("value"), "A-02 Q-022")

    def scan(self, code, read="", into="body", ends="Enter"):
        """As a keyboard scanner: all keys at once, then Enter, with no field in focus or with one.

        Args:
            code: what it sends as keys of an American keyboard. read: what the computer's own layout makes of them.
        """
        self.driver.execute_script(
            """const [code, read, into, ends] = arguments, at = document.querySelector(into);
               const press = (key, code, shiftKey) => at.dispatchEvent(
                 new KeyboardEvent('keydown', {key, code, shiftKey, bubbles: true, cancelable: true}));
               const names = {'-': 'Minus', '/': 'Slash'};
               if ('value' in at) at.focus();
               [...read].forEach((key, k) => {
                 const sent = code[k];
                 const go = press(key, names[sent] ?? (/[0-9]/.test(sent) ? 'Digit' : 'Key') + sent, /[A-Z]/.test(sent));
                 if (go && 'value' in at) at.value += key;
               });
               if (press(ends, ends, false) && ends === 'Enter') at.form?.requestSubmit();""",
            code,
            read or code,
            into,
            ends,
        )
