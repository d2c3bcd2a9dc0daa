"""What if: one thing moved, beside today's."""

from io import BytesIO

from PIL import Image

from frimble.exposures.models import Lamp
from frimble.films.models import ScanCheck
from frimble.screens.models import MeshType
from frimble.stencils.tests.test_proofs import ProofCase


class WhatIfTests(ProofCase):
    def setUp(self):
        super().setUp()
        self.measured()
        del self.asked["time_s"]

    def shown(self, **change):
        page = self.client.get("/stencil/what-if/", self.asked | change)
        self.assertEqual(page.status_code, 200, page.context["form"].errors)
        return page.context["today"], page.context["then"], page

    def test_the_other_thread_takes_longer_or_shorter_and_spreads_otherwise(self):
        # Common practice, no source: yellow thread wants more time than white and holds finer detail.
        today, then, page = self.shown(change="thread")
        self.assertContains(page, "white thread")
        self.assertLess(then.time_s, today.time_s)
        self.assertGreater(then.known.spread_um, today.known.spread_um)

    def test_a_lamp_twice_as_far_takes_about_four_times_as_long(self):
        # Source: inverse-square law; the shop's own tests may bend it a little.
        Lamp.objects.update(distance_mm=500, geometry="point")
        today, then, _ = self.shown(change="distance", distance_mm="1000")
        self.assertAlmostEqual(then.window.cured.value / today.window.cured.value, 4, delta=0.8)
        self.assertGreater(
            then.window.cured.high / then.window.cured.low, today.window.cured.high / today.window.cured.low
        )

    def test_a_paler_film_keeps_the_time_and_leaks(self):
        today, then, page = self.shown(change="density", dmax="0.7")
        self.assertEqual(then.time_s, today.time_s)
        self.assertGreater(then.known.light(then.time_s).leak, today.known.light(today.time_s).leak)
        self.assertContains(page, "black 0.70")

    def test_a_finer_mesh_takes_less_emulsion_and_dries_sooner(self):
        # Common practice, no source.
        fine = MeshType.objects.create(count_per_cm=120, thread_um=34)
        today, then, page = self.shown(change="mesh", other_mesh=fine.pk)
        self.assertLess(then.emulsion_ml, today.emulsion_ml)
        self.assertLess(then.dry_min, today.dry_min)
        self.assertContains(page, "Side by side")

    def test_both_sides_are_drawn(self):
        page = self.asked | {"change": "thread", "x": "25", "y": "20"}
        for side in ("today", "then"):
            answer = self.client.get("/stencil/what-if/part.png", page | {"side": side})
            self.assertEqual(Image.open(BytesIO(answer.content)).size, (620, 620))
        self.assertEqual(self.client.get("/stencil/what-if/part.png", page | {"x": "here"}).status_code, 422)

    def test_a_change_without_its_value_or_beyond_sense_is_said(self):
        for change, words in (
            ({"change": "mesh"}, "Say what it would be then"),
            ({"change": "formula", "other_formula": "Q7"}, "Q7"),
            ({"change": "density", "dmax": "0.01"}, "The black"),
            ({"change": "age", "age": "900"}, "The life used"),
        ):
            with self.subTest(words):
                page = self.client.get("/stencil/what-if/", self.asked | change)
                self.assertContains(page, words, status_code=422)

    def test_without_a_film_it_leads_to_the_films(self):
        ScanCheck.objects.all().delete()
        for address in ("/stencil/what-if/", "/stencil/proofs/"):
            self.assertContains(self.client.get(address), "No film is checked yet")
