"""Every model that says it is append-only is, and every one that is says so."""

from django.apps import apps
from django.test import TestCase

from frimble.people.records import AppendOnly

OWN = [m for m in apps.get_models() if m.__module__.startswith("frimble.") and not m.__name__.startswith("Historical")]
APPEND_ONLY = [m for m in OWN if issubclass(m, AppendOnly)]


class AppendOnlyTests(TestCase):
    # Common practice, no source. A record of work is corrected by a later one, never written over.

    def test_a_stored_row_of_any_of_them_refuses_to_be_saved_again_or_deleted(self):
        self.assertGreater(len(APPEND_ONLY), 20)
        for model in APPEND_ONLY:
            stored = model(pk=1)
            stored._state.adding = False
            with self.subTest(model=model.__name__):
                self.assertRaises(TypeError, stored.save)
                self.assertRaises(TypeError, stored.delete)
                self.assertRaises(TypeError, model.objects.all().delete)
                self.assertRaises(TypeError, model.objects.all().update, pk=2)

    def test_what_a_model_says_of_itself_is_what_it_is(self):
        says = {m.__name__ for m in OWN if "append-only" in (m.__doc__ or "").lower()}
        self.assertEqual(says, {m.__name__ for m in APPEND_ONLY})

    def test_the_records_of_the_work_are_among_them(self):
        wanted = {
            "ScreenEvent", "Coat", "Exposure", "Washout", "Tap", "TestReading", "ReadStep", "ChartEntry",
            "TensionMeasurement", "TensionValue", "DryCheck", "PressVisit", "PressReport", "BatchRecord",
        }  # fmt: skip
        self.assertEqual(wanted - {m.__name__ for m in APPEND_ONLY}, set())
