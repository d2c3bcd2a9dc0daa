from frimble.films.models import DensityReading, Film, FilmProcess
from frimble.testing.case import PageCase
from frimble.testing.shop import small_shop


class FilmPageTests(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.as_("tamsin")
        self.film = FilmProcess.objects.get()
        self.url = f"/film/processes/{self.film.pk}/"

    def as_(self, name):
        self.client.force_login(self.people[name], backend="django.contrib.auth.backends.ModelBackend")

    def post(self, route, **typed):
        return self.client.post(self.url, {"route": route} | typed)

    def test_a_system_is_added_with_its_cost(self):
        typed = {
            "name": "Toner",
            "how_made": "laser",
            "widest_mm": "11.7 in",
            "machine_price": "280",
            "life_films": "9000",
            "ink_a_film": "0,2",
            "sheet_a_film": "0.6",
            "spoilage": "0.1",
        }
        self.assertEqual(self.client.post("/film/processes/new/", typed).status_code, 302)
        made = FilmProcess.objects.get(name="Toner")
        self.assertAlmostEqual(made.widest_mm, 297.18)
        # Source: arithmetic, 280 / 9000 + (0.2 + 0.6) / 0.9.
        self.assertAlmostEqual(made.cost().a_film, 280 / 9000 + 0.8 / 0.9)
        again = self.client.post("/film/processes/new/", typed)
        self.assertContains(again, "called Toner already", status_code=422)
        self.assertContains(again, 'value="11.7 in"', status_code=422)
        self.assertContains(
            self.client.post("/film/processes/new/", typed | {"name": "B", "spoilage": "1"}),
            "not between 0 and 100",
            status_code=422,
        )

    def test_a_cost_that_cannot_be_is_refused_though_the_others_are_not_known(self):
        for name, value, words in (
            # Source: arithmetic: a share is part of one whole.
            ("spoilage", "335.6", "Spoilage: a share from 0 to 1 is wanted"),
            ("machine_price", "-1", "Machine price: not less than 0 is wanted"),
            ("life_films", "0", "Life films: more than 0 is wanted"),
        ):
            refused = self.client.post("/film/processes/new/", {"name": "B", "how_made": "laser", name: value})
            self.assertContains(refused, words, status_code=422)
            self.assertContains(refused, f'value="{value}"', status_code=422)
        self.assertFalse(FilmProcess.objects.filter(name="B").exists())

    def test_another_setting_makes_the_densities_stale(self):
        typed = {"name": self.film.name, "how_made": self.film.how_made, "settings": "600 dpi, heavy"}
        self.assertNotContains(self.client.get("/film/processes/"), "stale")
        self.assertEqual(self.client.post(f"{self.url}change/", typed).status_code, 302)
        self.assertContains(self.client.get("/film/processes/"), "stale: settings changed since")
        self.post("densitometer", band="uv", dmax="3.0", dmin="0.05")
        self.assertNotContains(self.client.get("/film/processes/"), "stale")
        self.client.post(f"{self.url}change/", typed | {"name": "Renamed only"})
        self.assertNotContains(self.client.get("/film/processes/"), "stale")

    def test_a_hold_out_test_is_planned_and_its_form_filled(self):
        page = self.client.get(self.url, {"route": "hold_out", "gel_time_s": "4", "work_s": "20"})
        self.assertContains(page, "64×, 21 min")
        self.assertContains(page, "at least 2.51 above clear film")
        self.assertContains(page, "Never look into the lamp")
        wrong = self.client.get(self.url, {"route": "hold_out", "gel_time_s": "20", "work_s": "4"})
        self.assertContains(wrong, "must be longer than the gel time")

    def test_each_route_makes_a_reading_that_names_it(self):
        self.post("densitometer", band="visual", dmax="2,10", dmin="0.04")
        # Source: ISO 5-2 by hand: log10(500 / 1) = 2.70 and log10(500 / 435) = 0.060.
        self.post("meter", band="uv", without_film="500", with_clear="435", with_black="1")
        meter = self.film.density("uv")
        self.assertEqual((meter.route, round(meter.dmax, 2), round(meter.dmin, 2)), ("meter", 2.7, 0.06))
        # Source: Dmax − Dmin = log10(multiple × t_work / t_gel): between log10(40) and log10(60), middle 1.69.
        self.post("hold_out", gel_time_s="3", work_s="15", last_clear="8", first_scummed="12", dmin="0.06")
        held = self.film.density("uv")
        self.assertEqual((held.route, round(held.dmax - held.dmin, 2)), ("hold_out", 1.69))
        self.assertEqual(self.film.density("visual").dmax, 2.1, "the bands are never mixed")
        page = self.client.get(self.url)
        # By hand: 1.69 holds four times the usual time, log10(30) = 1.48.
        self.assertContains(page, "though 2.5 is the published limit")
        self.assertContains(page, "Clear at 8×, scummed at 12×")

    def unmeasured(self):
        """Another process that nobody has measured yet."""
        self.film = FilmProcess.objects.create(name="New ink")
        self.url = f"/film/processes/{self.film.pk}/"

    def test_a_meter_that_reads_nothing_under_black_tells_a_bound(self):
        self.unmeasured()
        self.post("meter", band="uv", without_film="8", with_clear="7", with_black="0")
        reading = self.film.density("uv")
        self.assertTrue(reading.at_least)
        # Source: ISO 5-2 by hand: log10(8 / 0.01) = 2.90, as far as the meter tells.
        self.assertAlmostEqual(reading.dmax, 2.903, places=3)
        page = self.client.get(self.url)
        self.assertNotContains(page, "Too weak")

    def test_a_hold_out_test_that_never_scums_is_a_lower_bound(self):
        self.unmeasured()
        self.post("hold_out", gel_time_s="3", work_s="15", last_clear="64", first_scummed="", dmin="0.06")
        self.assertTrue(self.film.density("uv").at_least)
        self.assertContains(self.client.get("/film/processes/"), "at least 2.57")

    def test_a_bound_that_agrees_leaves_what_was_measured_standing(self):
        before = self.film.density("uv")
        self.post("hold_out", gel_time_s="3", work_s="15", last_clear="4", first_scummed="", dmin="0.06")
        self.assertEqual(self.film.density("uv"), before)
        self.post("hold_out", gel_time_s="3", work_s="15", last_clear="2000", first_scummed="", dmin="0.06")
        self.assertContains(self.client.get(self.url), "was measured: measure again")

    def test_absurd_densities_are_said_beside_their_field_and_kept(self):
        for route, typed, words in (
            ("densitometer", {"band": "uv", "dmax": "34", "dmin": "0.06"}, "between 0 and 6"),
            ("densitometer", {"band": "uv", "dmax": "0.05", "dmin": "0.4"}, "not denser than the clear film"),
            ("densitometer", {"band": "uv", "dmax": "dark", "dmin": "0.4"}, "“dark” is not a number"),
            ("meter", {"band": "uv", "without_film": "1", "with_clear": "1", "with_black": "500"}, "more than without"),
            (
                "hold_out",
                {"gel_time_s": "3", "work_s": "15", "last_clear": "8", "first_scummed": "4", "dmin": "0"},
                "longer time",
            ),
        ):
            with self.subTest(words):
                response = self.post(route, **typed)
                self.assertContains(response, words, status_code=422)
                self.assertContains(response, f'value="{list(typed.values())[-2]}"', status_code=422)
        self.assertEqual(DensityReading.objects.count(), 1)

    def test_the_press_may_look_but_not_record(self):
        self.as_("ines")
        self.assertEqual(self.post("densitometer", band="uv", dmax="3", dmin="0.1").status_code, 403)

    def test_costs_stand_side_by_side_with_the_break_even(self):
        FilmProcess.objects.update(machine_price=900, life_films=3000, ink_a_film=0.5, sheet_a_film=1.3, spoilage=0.1)
        FilmProcess.objects.create(
            name="Plain", machine_price=300, life_films=3000, ink_a_film=1.2, sheet_a_film=1.8, spoilage=0
        )
        page = self.client.get("/film/processes/")
        # Source: by hand: 0.30 + 2.00 a film; 600 more for the machine at 1.00 saved a film.
        self.assertContains(page, "2.30")
        self.assertContains(page, "after 600 films")
        # By hand: a machine that lasts 500 films and saves 1.00 on each is bought anew before it has paid 600.
        one, plain = FilmProcess.objects.exclude(name="Plain").first(), FilmProcess.objects.get(name="Plain")
        asked = {"one": one.pk, "one_life": "500", "other": plain.pk, "other_life": ""}
        self.assertContains(self.client.get("/film/processes/", asked), "pays never")
        same = self.client.get("/film/processes/", asked | {"other": one.pk})
        self.assertContains(same, "Choose another than the first")

    def test_settings_that_were_tried_stand_side_by_side_and_count_for_nothing_else(self):
        before = self.client.get(self.url).context["density"].bands[0].reading
        for setting, dmax in (("plain", "2.2"), ("heavy black, slow", "3.9")):
            sent = {"route": "densitometer", "band": "uv", "dmax": dmax, "dmin": "0.06", "setting": setting}
            self.client.post(self.url, sent)
        page = self.client.get(self.url)
        self.assertEqual([t.setting for t in page.context["trials"]], ["heavy black, slow", "plain"])
        self.assertContains(page, "The darkest by UV", count=1)
        self.assertEqual(page.context["density"].bands[0].reading, before)

    def test_the_simulated_densitometer_reads_near_the_last_reading(self):
        reading = self.client.get(f"{self.url}densitometer/").json()
        self.assertAlmostEqual(reading["values"]["dmax"], 3.4, delta=0.15)


class HalftoneTests(PageCase):
    """Each film keeps ruling, angle and shape of its dots; plates that beat are named; touch-ups keep densities."""

    def setUp(self):
        self.people = small_shop()
        self.client.force_login(self.people["tamsin"])

    def film(self, name, **typed):
        sent = {
            "name": name,
            "job_number": "J-9",
            "ruling_lpi": "45",
            "angle_deg": "22.5",
            "dot_shape": "elliptical",
        } | typed
        return self.client.post("/film/films/new/", sent)

    def test_they_are_kept_and_shown(self):
        self.film("Cyan")
        film = Film.objects.get()
        self.assertEqual((film.ruling_lpi, film.angle_deg, film.dot_shape), (45, 22.5, "elliptical"))
        self.assertContains(self.client.get(f"/film/films/{film.pk}/"), "elliptical dots")
        self.assertContains(self.client.get("/film/films/new/"), "15/75/90/45")

    def test_what_no_halftone_has_is_refused_beside_its_field(self):
        for typed, words in (({"ruling_lpi": "4000"}, "The ruling"), ({"angle_deg": "400"}, "between -180 and 180")):
            with self.subTest(typed):
                self.assertContains(self.film("Cyan", **typed), words, status_code=422)

    def test_plates_that_beat_with_each_other_are_named(self):
        # Source: geometry; equal grids turned by a small angle beat every p ÷ (2 sin half of it): 5° at 45 lines is 6.5 mm.
        self.film("Cyan", angle_deg="15")
        self.film("Magenta", angle_deg="20")
        page = self.client.get("/film/separations/J-9/")
        self.assertContains(page, "6.5 mm: it will show")
        Film.objects.filter(name="Magenta").update(angle_deg=45)
        self.assertContains(self.client.get("/film/separations/J-9/"), "No two of these 2 plates beat")

    def test_a_touch_up_keeps_the_black_before_and_after(self):
        self.film("Cyan")
        film = Film.objects.get()
        sent = {"words": "second pass", "kind": "spray", "density_before": "2.1", "density_after": "3.0"}
        self.client.post(f"/film/films/{film.pk}/", sent)
        self.assertContains(self.client.get(f"/film/films/{film.pk}/"), "black 2.10 → 3.00")
        wrong = self.client.post(f"/film/films/{film.pk}/", sent | {"density_after": "31"})
        self.assertContains(wrong, "between 0 and 6", status_code=422)
