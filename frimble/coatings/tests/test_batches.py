"""Batches: mixed, topped up, warmed, poured from; coaters and faults."""

from datetime import timedelta

from django.test import TestCase
from django.utils import timezone

from frimble.coatings.batches import queries as batch_queries
from frimble.coatings.batches import services as batch_services
from frimble.coatings.coaters import queries as coater_queries
from frimble.coatings.coaters import services as coater_services
from frimble.coatings.emulsions import services as emulsion_services
from frimble.coatings.models import Batch, BatchRecord, Coater, Emulsion
from frimble.core.conclusions import InvalidInput
from frimble.people import settings as house_settings
from frimble.screens.models import Frame
from frimble.testing.shop import small_shop


class BatchCase(TestCase):
    def setUp(self):
        self.people = small_shop()
        self.tamsin, self.now, self.settings = self.people["tamsin"], timezone.now(), house_settings.current()
        self.emulsion = Emulsion.objects.get()
        Emulsion.objects.update(ratio=10)
        self.emulsion.refresh_from_db()

    def mix(self, code="SD-20", days=0, base_l=1.0, **more):
        mixed_at = self.now - timedelta(days=days)
        return batch_services.mix_batch(code, self.emulsion, mixed_at, 20, self.tamsin, base_l=base_l, **more)

    def refused(self, field, words, call, *args, **named):
        with self.assertRaises(InvalidInput) as caught:
            call(*args, **named)
        self.assertIn(words, str(caught.exception))
        self.assertEqual(caught.exception.field, field)


class BatchTests(BatchCase):
    def test_a_blend_is_as_old_as_its_oldest_part(self):
        # Common practice, no source. Sensitiser only for the new base; the oldest part decides.
        old = self.mix(days=20)
        self.assertAlmostEqual(batch_queries.litres_left(old), 1.1)
        blend = batch_services.top_up(old, "SD-21", 0.5, self.tamsin)
        self.assertAlmostEqual(batch_queries.litres_left(blend), 1.1 + 0.5 + 0.05)
        self.assertEqual(round(blend.age(self.now, self.settings).value, 2), round(20 / 45, 2))
        self.assertEqual(blend.topped_from, old)
        old.refresh_from_db()
        self.refused("kept_c", "is finished", batch_services.move, old, 6, self.tamsin)

    def test_days_in_the_cold_count_less(self):
        batch = self.mix(days=10)
        warm = batch.age(self.now, self.settings).value
        BatchRecord.objects.create(
            batch=batch, kind="moved", kept_c=10, at=self.now - timedelta(days=8), by=self.tamsin
        )
        # From memory: life doubles for each 10 °C less; two days warm and eight at half.
        self.assertAlmostEqual(batch.age(self.now, self.settings).value / warm, (2 + 8 / 2) / 10, places=3)
        self.assertTrue(batch_queries.stands_cold(batch, self.settings, self.now))

    def test_a_batch_from_the_cold_warms_first(self):
        batch = self.mix(days=5)
        batch_services.move(batch, 6, self.tamsin)
        batch_services.move(batch, 20, self.tamsin)
        left = batch_queries.warm_up_left_min(batch, self.settings, timezone.now())
        self.assertAlmostEqual(left, 15, delta=0.5)
        self.assertEqual(
            batch_queries.warm_up_left_min(batch, self.settings, timezone.now() + timedelta(minutes=16)), 0
        )
        self.refused("kept_c", "between -5 and 50", batch_services.move, batch, 90, self.tamsin)

    def test_what_the_batch_cannot_hold_or_give(self):
        self.refused("base_l", "do not go into a container", self.mix, base_l=3.0, capacity_l=2.5)
        batch = self.mix(capacity_l=1.5)
        self.refused("litres", "holds about 1.10 l", batch_services.change_litres, batch, "poured", 3, self.tamsin)
        self.refused(
            "litres", "The container holds 1.5 l", batch_services.change_litres, batch, "returned", 1, self.tamsin
        )
        batch_services.change_litres(batch, "poured", 0.5, self.tamsin)
        batch_services.change_litres(batch, "returned", 0.3, self.tamsin)
        self.assertAlmostEqual(batch_queries.litres_left(Batch.objects.get(pk=batch.pk)), 0.9)
        self.refused("base_l", "do not go into", batch_services.top_up, batch, "SD-22", 1.0, self.tamsin)
        with self.assertRaises(TypeError):
            batch.records.first().delete()

    def test_a_batch_that_is_not_mixed_yet(self):
        self.refused("mixed_at", "in the future", self.mix, days=-2)
        self.assertFalse(Batch.objects.filter(code="SD-20").exists())

    def test_how_long_the_shop_s_stock_lasts(self):
        self.assertIsNone(batch_queries.outlook(self.emulsion, self.settings))
        batch = self.mix(base_l=2.0)
        batch_services.change_litres(batch, "poured", 1.0, self.tamsin)
        batch_services.change_litres(batch, "returned", 0.2, self.tamsin)
        result = batch_queries.outlook(self.emulsion, self.settings)
        # Source: arithmetic; 1.4 l left at 0.8 l in eight weeks outlast the batch's life of 45 days.
        self.assertIn("life ends first", result.reason)
        self.assertAlmostEqual(result.value, 45, delta=0.1)
        self.assertEqual(batch_queries.outlook(self.emulsion, self.settings, planned_l=2).verdict, "short")


class CoaterTests(BatchCase):
    def test_a_chipped_coater_is_not_offered(self):
        coater_services.add("Narrow", 440, True)
        frame = Frame.objects.get(code="Q-014")
        best = coater_queries.best(frame, self.settings)
        self.assertEqual(best.name, "Narrow")
        coater_services.add("Longer", 460, True)
        self.assertEqual(coater_queries.best(frame, self.settings), best)
        Coater.objects.filter(name="Longer").delete()
        coater_services.check(best, "chipped", self.tamsin)
        self.assertIsNone(coater_queries.best(frame, self.settings))
        answer = coater_queries.standing(self.settings)[0]
        self.assertFalse(answer.usable)
        self.assertIn("will not expose", answer.words)
        self.refused("name", "called Narrow already", coater_services.add, "narrow", 300, True)
        self.refused("length_mm", "coater's length", coater_services.add, "Tiny", 3, True)
        self.assertEqual(Coater.objects.count(), 1)


class MixingPageTests(BatchCase):
    """The mixing bench: any unit, no guess at an age, no sensitiser where none belongs."""

    def setUp(self):
        super().setUp()
        self.client.force_login(self.tamsin, backend="django.contrib.auth.backends.ModelBackend")

    def asked(self, **typed):
        given = {
            "emulsion": "",
            "base": "500",
            "ratio": "10",
            "remainder": "",
            "remainder_of": "",
            "remainder_age_days": "",
        }
        return self.client.get("/coat/batches/", given | typed)

    def test_amounts_come_back_in_the_unit_they_were_typed_in(self):
        # Source: arithmetic; a tenth of 250 g, of 8 oz, of 1.5 l. The avoirdupois ounce is the same on both sides.
        for typed, owed in (("250 g", "25 g of sensitiser"), ("8 oz", "0.8 oz"), ("1.5 l", "0.15 l"), ("500", "50 ml")):
            with self.subTest(typed):
                self.assertContains(self.asked(base=typed), owed)
        self.assertContains(self.asked(ratio="10:1", base="250 g"), "25 g of sensitiser")

    def test_a_remainder_of_unknown_age_is_asked(self):
        page = self.asked(remainder="300")
        self.assertContains(page, "Say of which batch the remainder is", status_code=422)
        self.assertContains(self.asked(remainder="300", remainder_age_days="12"), "counts as 12 days old")

    def test_volume_and_weight_are_not_added(self):
        page = self.asked(base="500 g", remainder="0.3 l", remainder_age_days="2")
        self.assertContains(page, "both by volume or both by weight", status_code=422)
        self.assertContains(self.asked(base="500 bushels"), "no unit of volume or weight", status_code=422)

    def test_no_sensitiser_goes_into_a_photopolymer(self):
        ready = Emulsion.objects.create(name="Plover Quick", kind="photopolymer", solids=0.45)
        self.assertContains(self.asked(emulsion=ready.pk), "comes ready-sensitised", status_code=422)
        self.emulsion = ready
        self.refused("ratio", "comes ready-sensitised", self.mix, "PQ-01", ratio=10)
        self.assertTrue(self.mix("PQ-02").pk)
        data = {"name": "Other", "kind": "photopolymer", "solids": 45, "ratio": 10, "colour": "#7FA99B"}
        self.refused("ratio", "ready", emulsion_services.keep_emulsion, None, data | {"exposed_colour": "#4F7F70"})

    def test_what_is_owed_is_said_after_a_top_up(self):
        self.mix("SD-31")
        sent = {"act": "top_up", "code": "SD-32", "base_l": "0.5"}
        page = self.client.post("/coat/batches/SD-31/", sent, follow=True)
        self.assertContains(page, "50 ml of sensitiser are owed for the new 0.5 l; none for what was left.")


class CoaterEndTests(BatchCase):
    def test_a_coaters_ends_are_written_down_and_loose_ones_warned_of(self):
        self.client.force_login(self.tamsin, backend="django.contrib.auth.backends.ModelBackend")
        sent = {"act": "add", "name": "Long", "length_mm": "420", "round_edge": "on", "ends": "slotted", "lipped": "on"}
        self.client.post("/coat/coaters/", sent)
        page = self.client.get("/coat/coaters/")
        self.assertContains(page, "end caps pushed on")
        self.assertContains(page, "lipped")
        self.assertContains(page, "Press its caps home")
