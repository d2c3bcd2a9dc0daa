"""What the press's words are held against: tension now and before, the coat as measured, and how formulas covered."""

from datetime import timedelta

from django.utils import timezone

from frimble.coatings.models import Coat, CoatThickness
from frimble.core.tension.limits import poor_below
from frimble.core.tension.measurement import TensionReading
from frimble.people import settings as house_settings
from frimble.people.moments import happened_at
from frimble.press.feedback import queries
from frimble.press.models import PressFeedback
from frimble.press.tests.printed import PrintedCase
from frimble.screens.models import Cycle, Screen
from frimble.screens.tension.services import record_tension

PAGE = "/press/Q-014/print/"


class KnownCase(PrintedCase):
    def screen(self):
        return Screen.objects.for_lists().get(frame__code="Q-014")

    def known(self):
        return queries.printed_screen(self.screen(), house_settings.current())

    def tension(self, days_ago, value):
        readings = [TensionReading("centre", direction, value) for direction in ("warp", "weft")]
        with happened_at(timezone.now() - timedelta(days=days_ago)):
            record_tension("Q-014", readings, self.tamsin, sure=True)


class ScreenTests(KnownCase):
    def test_without_a_measurement_tension_is_not_known(self):
        known = self.known()
        self.assertEqual((known.tension, known.tension_before), (None, None))

    def test_one_measurement_is_now_and_two_are_now_and_before(self):
        self.tension(1, 24)
        self.assertEqual((self.known().tension, self.known().tension_before), (24, None))
        self.tension(0, 19)
        self.assertEqual((self.known().tension, self.known().tension_before), (19, 24))

    def test_the_limit_is_that_of_its_frame(self):
        screen = self.screen()
        self.assertEqual(self.known().slack_below, poor_below(screen.frame.material, house_settings.current()))

    def test_a_measured_coat_stands_beside_what_is_usual_for_it(self):
        self.assertEqual((self.known().eom_um, self.known().eom_aim_um), (None, None))
        coat = Coat.objects.get()
        CoatThickness.objects.create(
            event=coat.event, coat=coat, bare_um=77, readings_um=[82, 83, 82.5], eom_um=5.5, spread_um=0.5
        )
        known = self.known()
        self.assertEqual(known.eom_um, 5.5)
        # Source: common practice: one pass a side leaves some microns over the threads.
        self.assertGreater(known.eom_aim_um, 0)

    def test_tension_that_fell_is_blamed_for_prints_that_do_not_meet(self):
        self.tension(1, 25)
        self.tension(0, 14)
        page = self.client.post(PAGE, {"fit": "off"}, follow=True)
        self.assertContains(page, "the mesh is slack, 14.0 N/cm of 20")


class FormulaTests(KnownCase):
    def say(self, opacity, passes, visit=None, cycle=None):
        screen = self.screen()
        return PressFeedback.objects.create(
            installation=screen.installation, cycle=cycle, visit=visit, opacity=opacity, passes=passes,
            at=timezone.now(), by=self.ines,
        )  # fmt: skip

    def test_of_prints_that_covered_the_passes_are_told_from_least_to_most(self):
        cycle = Cycle.objects.get()
        for opacity, passes in (("opaque", 1), ("opaque", 3), ("thin", 4)):
            self.say(opacity, passes, cycle=cycle)
        (row,) = queries.prints_on(self.screen().mesh)
        self.assertEqual((row.formula, row.prints, row.opaque), ("P1 S1", 3, 2))
        self.assertEqual((sorted(row.passes), row.passes_words), ([1, 3], "1 to 3"))

    def test_passes_that_nobody_wrote_down_are_said_to_be_so(self):
        self.say("opaque", None, cycle=Cycle.objects.get())
        (row,) = queries.prints_on(self.screen().mesh)
        self.assertEqual(row.passes_words, "not written down")

    def test_prints_of_no_known_coat_are_not_counted(self):
        self.say("opaque", 2)
        self.assertEqual(queries.prints_on(self.screen().mesh), [])

    def test_what_says_nothing_of_opacity_is_not_counted(self):
        self.say("", 2, cycle=Cycle.objects.get())
        self.assertEqual(queries.prints_on(self.screen().mesh), [])
