"""A connected instrument takes the simulated one's place by a setting; one that does not answer says so."""

import json

from django.test import SimpleTestCase, override_settings

from frimble.core.instruments import simulated
from frimble.ui import instruments


class LoggedGauge:
    """A thickness gauge that reads from a list, as one on a cable would."""

    name = "bench thickness gauge"
    simulated = False

    def read_coat(self, true_um, seed):
        return [61.0, 62.0, 60.0, 61.0, 63.0]


class DumbGauge(LoggedGauge):
    def read_coat(self, true_um, seed):
        raise TimeoutError


class InstrumentTests(SimpleTestCase):
    def told(self):
        gauge = instruments.thickness_gauge()
        return instruments.answer(gauge, lambda: {"coated_um": gauge.read_coat(60, 1)})

    @override_settings(INSTRUMENTS={"thickness_gauge": f"{__name__}.LoggedGauge"})
    def test_another_instrument_is_chosen_by_a_setting(self):
        answer = json.loads(self.told().content)
        self.assertEqual((answer["name"], answer["simulated"]), ("bench thickness gauge", False))
        self.assertEqual(answer["values"]["coated_um"][0], 61.0)

    @override_settings(INSTRUMENTS={"thickness_gauge": f"{__name__}.DumbGauge"})
    def test_one_that_does_not_answer_says_so(self):
        self.assertEqual(self.told().status_code, 503)

    def test_where_nothing_is_connected_a_simulated_one_answers_and_says_that_it_is(self):
        for chosen in (
            instruments.tension_gauge, instruments.thickness_gauge, instruments.densitometer, instruments.hygrometer,
            instruments.light_meter,
        ):  # fmt: skip
            self.assertTrue(chosen().simulated)
            self.assertIn("simulated", chosen().name)
        self.assertIsInstance(instruments.hygrometer(), simulated.SimulatedHygrometer)
