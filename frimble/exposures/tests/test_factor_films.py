"""The shop's own factor films: kept with their areas, planned with, and read by what is printed on them."""

from frimble.exposures.models import FactorFilm, StepTest
from frimble.exposures.tests.test_light_pages import PageCase
from frimble.stencils.washing import services as stencil_services

_URL = "/expose/factor-films/"


class FactorFilmTests(PageCase):
    def enter(self, **typed):
        self.client.force_login(self.odile)
        sent = {"name": "Old film", "factors": "1 0.7 0.5 0.33 0.25", "areas": "A: solid\nB: fine lines"} | typed
        return self.client.post(_URL, sent)

    def test_a_film_is_entered_and_mended_by_the_lead(self):
        self.assertEqual(self.client.post(_URL, {}).status_code, 403)
        self.assertRedirects(self.enter(), _URL)
        film = FactorFilm.objects.get()
        self.assertEqual((film.factors, film.areas), ([1, 0.7, 0.5, 0.33, 0.25], [["A", "solid"], ["B", "fine lines"]]))
        self.client.post(f"{_URL}{film.pk}/", {"name": "Old film", "factors": "1 0.5 0.25", "areas": ""})
        film.refresh_from_db()
        self.assertEqual((film.factors, film.areas), ([1, 0.5, 0.25], []))
        self.assertContains(self.client.get(_URL), "A filter never")

    def test_what_no_film_has_is_told_and_kept(self):
        for typed, words in (
            ({"factors": "1 0.5"}, "three factors"),
            ({"factors": "1 2 3"}, "between"),
            ({"areas": "fine lines"}, "write an area and what it is for"),
        ):
            with self.subTest(typed):
                page = self.enter(**typed)
                self.assertContains(page, words, status_code=422)
                self.assertContains(page, "Old film", status_code=422)
        self.enter()
        self.assertContains(self.enter(), "is called Old film already", status_code=422)

    def test_a_test_with_it_is_read_by_its_factors(self):
        self.enter()
        self.dry()
        self.client.force_login(self.tamsin)
        sent = {
            "kind": "factor",
            "guess_s": "30",
            "factor_film": FactorFilm.objects.get().pk,
            "factors": "",
            "dry": "on",
        }
        sent |= {"lamp": self.lamp.pk, "film_process": self.film.pk, "revision": self.screen().revision}
        self.assertEqual(self.client.post("/expose/Q-014/test/", sent).status_code, 302)
        test = StepTest.objects.get()
        self.assertEqual(test.factor_film.name, "Old film")
        self.tap(test.run, 0, test.total_s, kinds=["start", "stop"])
        stencil_services.wash("Q-014", self.tamsin, soak_s=40, rinse_s=90)
        page = self.client.get(f"/expose/tests/{test.pk}/")
        self.assertContains(page, "× 0.33")
        self.assertContains(page, "fine lines")

    def test_a_film_or_factors_are_asked(self):
        page = self.client.get("/expose/Q-014/test/", {"kind": "factor", "guess_s": "30", "factors": ""})
        self.assertContains(page, "Choose a film, or type the factors", status_code=422)
