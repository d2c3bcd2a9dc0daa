import json
from io import StringIO

from django.core.management import call_command
from django.utils import timezone

from frimble.core.conclusions import InvalidInput
from frimble.people import settings as house_settings
from frimble.people.models import HouseSetting, Person
from frimble.testing.case import PageCase


class SettingsPageTests(PageCase):
    def setUp(self):
        self.odile = Person.objects.create_user("odile", first_name="Odile", role="lead")
        self.wim = Person.objects.create_user("wim", first_name="Wim", role="trainee")

    def post(self, person, **typed):
        self.client.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
        return self.client.post("/people/settings/", typed)

    def test_a_lead_changes_a_standard_with_a_reason_and_it_holds(self):
        self.post(self.odile, key="tension.poor_below", value="21", reason="our whites need it")
        self.assertEqual(house_settings.current()["tension.poor_below"], 21)
        self.post(self.odile, key="tension.poor_below", value="20,5", reason="too strict")
        page = self.client.get("/people/settings/")
        self.assertContains(page, "Changed by Odile")
        self.assertContains(page, "our whites need it")
        self.assertEqual(HouseSetting.history.count(), 2)

    def test_bad_values_are_said_beside_the_field_and_kept(self):
        for typed, words in (
            ({"value": "900", "reason": "x"}, "between 5 and 60"),
            ({"value": "21", "reason": ""}, "Say why"),
        ):
            with self.subTest(words):
                response = self.post(self.odile, key="tension.poor_below", **typed)
                self.assertContains(response, words, status_code=422)
                self.assertContains(response, f'value="{typed["value"]}"', status_code=422)
        self.assertFalse(HouseSetting.objects.exists())

    def test_others_may_not_change_them(self):
        self.assertEqual(self.post(self.wim, key="tension.poor_below", value="21", reason="x").status_code, 403)
        with self.assertRaises(InvalidInput):
            house_settings.change("no.such", "1", "x", self.odile, timezone.now())

    def test_light_and_units_follow_the_person(self):
        self.client.force_login(self.wim, backend="django.contrib.auth.backends.ModelBackend")
        self.client.post("/people/set/light/", {"value": "safelight", "next": "/people/settings/"})
        self.assertContains(self.client.get("/people/settings/"), 'data-light="safelight"')
        self.assertEqual(self.client.post("/people/set/light/", {"value": "pink"}).status_code, 400)
        away = self.client.post("/people/set/units/", {"value": "inch", "next": "//elsewhere.example/"})
        self.assertEqual(away.url, "/")


class SignInTests(PageCase):
    def test_a_wrong_password_is_told_and_the_name_stays(self):
        Person.objects.create_user("tamsin", password="right-and-long")
        response = self.client.post("/people/sign-in/", {"username": "tamsin", "password": "wrong"})
        self.assertContains(response, "do not match")
        self.assertContains(response, 'value="tamsin"')

    def test_the_content_policy_lets_nothing_in_from_outside(self):
        policy = self.client.get("/people/sign-in/")["Content-Security-Policy"]
        self.assertIn("default-src 'none'", policy)
        self.assertIn("script-src 'self'", policy)
        for word in ("unsafe-inline", "unsafe-eval", "http", "data:", "*"):
            self.assertNotIn(word, policy)


class CalcCommandTests(PageCase):
    def calc(self, *arguments):
        out = StringIO()
        call_command("calc", *arguments, stdout=out)
        return json.loads(out.getvalue())

    def test_it_lists_and_answers_in_json_with_the_house_standards(self):
        self.assertIn("mesh", [c["name"] for c in self.calc("--list")])
        # Source: ISO 9044 by hand: 10000/43 − 80 = 152.56 µm.
        self.assertAlmostEqual(self.calc("mesh", "count=43/cm", "thread_um=80")["opening_um"], 152.558, places=3)
        odile = Person.objects.create_user("odile", role="lead")
        house_settings.change("mesh.fabric_thickness_factor", "1.5", "measured", odile, timezone.now())
        self.assertEqual(self.calc("mesh", "count=43/cm", "thread_um=80")["fabric_thickness_um"], 120)

    def test_bad_arguments_and_refusals_answer_in_json_too(self):
        for arguments, code, key in (
            (("mesh", "count=0/cm", "thread_um=80"), 2, "error"),
            (("steptest-plan", "guess=5", "series=4thrt2"), 3, "refused"),
        ):
            out = StringIO()
            with self.assertRaises(SystemExit) as caught:
                call_command("calc", *arguments, stdout=out)
            self.assertEqual(caught.exception.code, code)
            self.assertIn(key, json.loads(out.getvalue()))


class FoundSettingTests(PageCase):
    def setUp(self):
        self.client.force_login(Person.objects.create_user("odile", role="lead"))

    def test_they_are_folded_and_found_by_words_and_say_how_many_are_ones_own(self):
        page = self.client.get("/people/settings/")
        self.assertNotContains(page, '<details class="group" open>')
        self.client.post("/people/settings/", {"key": "coat.keeps_days", "value": "21", "reason": "ours"})
        self.assertContains(self.client.get("/people/settings/"), "1 of your own")
        found = self.client.get("/people/settings/", {"q": "COAT keeps"})
        self.assertContains(found, "coat.keeps_days")
        self.assertContains(found, '<details class="group" open>')
        self.assertNotContains(found, "tension.poor_below")
        self.assertContains(self.client.get("/people/settings/", {"q": "zeppelin"}), "No setting speaks of “zeppelin”")

    def test_a_setting_is_changed_in_a_form_of_its_own_and_the_others_stay_folded(self):
        page = self.client.get("/people/settings/", {"change": "tension.poor_below", "q": "poor"})
        self.assertContains(page, 'name="reason"', count=1)
        self.assertContains(page, 'id="v-tension.poor_below"')
        self.assertNotContains(self.client.get("/people/settings/"), 'name="reason"')
        self.assertContains(page, "&amp;q=poor#")
        self.client.force_login(Person.objects.create_user("wim", role="trainee"))
        looking = self.client.get("/people/settings/", {"change": "tension.poor_below"})
        self.assertNotContains(looking, 'name="reason"')
        self.assertNotContains(looking, ">Change</a>")

    def test_a_refused_change_stands_open(self):
        answer = self.client.post(
            "/people/settings/", {"key": "room.time_zone", "value": "Atlantis/Port", "reason": "x"}
        )
        self.assertContains(answer, "There is no time zone “Atlantis/Port”", status_code=422)
        self.assertContains(answer, 'value="Atlantis/Port"', status_code=422)
        self.assertEqual(answer.content.decode().count('<details class="group" open>'), 1)
