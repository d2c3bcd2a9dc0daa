"""People added, let in, changed and signed out; a shared tablet; and how long who tries in vain waits."""

import inspect
from datetime import timedelta
from io import StringIO

from django.core.management import CommandError, call_command
from django.urls import URLPattern, get_resolver
from django.utils import timezone

from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.people.accounts import codes, queries, services
from frimble.people.door import throttle
from frimble.people.first_start import code as first_code
from frimble.people.models import FailedTry, HouseSetting, Person, Session, SignInCode
from frimble.screens.models import ScreenEvent
from frimble.testing.case import PageCase, later, own_data_folder
from frimble.testing.shop import small_shop

_GOOD = "three quiet herons"


def every_pattern(resolver):
    for pattern in resolver.url_patterns:
        yield from [pattern] if isinstance(pattern, URLPattern) else every_pattern(pattern)


def source_of(view) -> str:
    """The text of a view under its decorators; none for those of Django's own classes."""
    plain = inspect.unwrap(view)
    return inspect.getsource(plain) if inspect.isfunction(plain) else ""


class DeedTests(PageCase):
    def test_a_deed_that_there_is_not_is_no_page(self):
        lead = Person.objects.create_user("odile", password=_GOOD, role="lead")
        self.client.force_login(lead)
        for deed in ("0", "become", "0" * 40):
            with self.subTest(deed):
                self.assertEqual(self.client.post(f"/people/{lead.pk}/{deed}/").status_code, 404)


class CodeTests(PageCase):
    def setUp(self):
        self.lead = Person.objects.create_user("odile", password=_GOOD, role="lead")
        self.tamsin = services.add("Tamsin", "Tamsin", "technician", "metric")

    def test_it_is_good_once_and_typed_as_one_likes(self):
        code = services.make_code(self.tamsin, self.lead)
        self.assertNotIn(code, str(SignInCode.objects.values()))
        person = services.use_code(code.lower().replace("-", " "), _GOOD)
        self.assertTrue(person.check_password(_GOOD))
        with self.assertRaisesMessage(InvalidInput, "was used"):
            services.use_code(code, _GOOD)

    def test_a_new_one_ends_the_one_before_and_three_days_end_each(self):
        first, second = (services.make_code(self.tamsin, self.lead) for _ in range(2))
        with self.assertRaises(InvalidInput):
            services.find_code(first)
        with later(days=3, minutes=1), self.assertRaises(InvalidInput):
            services.find_code(second)
        self.assertEqual(services.find_code(second).person, self.tamsin)

    def test_a_bad_password_leaves_it_good(self):
        code = services.make_code(self.tamsin, self.lead)
        # Source: NIST SP 800-63B, 5.1.1.2: length, lists of common passwords, and likeness to the name are looked at.
        for password, words in (
            ("short", "at least 12"), ("password1234", "too common"), ("827391827364", "entirely numeric"),
            ("tamsin-tamsi", "similar to the username"),
        ):  # fmt: skip
            with self.subTest(password), self.assertRaisesMessage(InvalidInput, words):
                services.use_code(code, password)
        self.assertEqual(services.find_code(code).person, self.tamsin)

    def test_codes_are_long_and_hold_no_letters_that_are_taken_for_others(self):
        made = {codes.new_code() for _ in range(200)}
        self.assertEqual(len(made), 200)
        self.assertEqual(set("".join(made)) & set("01IOL"), set())
        # Source: NIST SP 800-63B, 5.1.2.2: a look-up secret has at least 20 bits; 31 signs at 16 places have 79.
        self.assertEqual({len(code.replace("-", "")) for code in made}, {16})


class PeopleTests(PageCase):
    def setUp(self):
        self.lead = Person.objects.create_user("odile", password=_GOOD, role="lead")
        self.tamsin = Person.objects.create_user("tamsin", password=_GOOD, first_name="Tamsin")

    def test_the_only_lead_stays_lead_and_stays(self):
        for act in (lambda: services.leave(self.lead), lambda: services.change(self.lead, "Odile", "press")):
            with self.assertRaisesMessage(RuleViolation, "only lead"):
                act()
        services.change(self.tamsin, "Tamsin", "lead")
        services.leave(self.lead)
        self.assertFalse(Person.objects.get(username="odile").is_active)

    def test_who_left_is_signed_out_and_comes_in_no_more_but_the_records_stay(self):
        self.client.login(username="tamsin", password=_GOOD)
        self.assertEqual(self.client.get("/").status_code, 200)
        code = services.make_code(self.tamsin, self.lead)
        services.leave(self.tamsin)
        self.assertEqual(self.client.get("/").status_code, 302)
        self.assertFalse(self.client.login(username="tamsin", password=_GOOD))
        with self.assertRaises(InvalidInput):
            services.find_code(code)
        with self.assertRaisesMessage(RuleViolation, "come back"):
            services.make_code(self.tamsin, self.lead)
        services.come_back(self.tamsin)
        self.assertTrue(self.client.login(username="tamsin", password=_GOOD))

    def test_two_do_not_sign_in_alike(self):
        with self.assertRaisesMessage(InvalidInput, "already"):
            services.add("TAMSIN", "Another", "press", "metric")

    def test_pages_of_the_lead_are_not_for_others(self):
        self.client.force_login(self.tamsin)
        for path in ("/people/add/", f"/people/{self.lead.pk}/"):
            self.assertEqual(self.client.get(path).status_code, 403, path)
        self.assertEqual(self.client.post(f"/people/{self.lead.pk}/leave/").status_code, 403)
        self.assertContains(self.client.get("/people/"), "Odile" if self.lead.first_name else "odile")
        self.assertNotContains(self.client.get("/people/"), "Add somebody")

    def test_what_was_typed_wrongly_stays(self):
        self.client.force_login(self.lead)
        answer = self.client.post("/people/add/", {"username": "a b", "shown_name": "Wim", "role": "press"})
        self.assertContains(answer, "Small letters, digits and dashes", status_code=422)
        self.assertContains(answer, 'value="Wim"', status_code=422)

    def test_from_a_terminal(self):
        out = StringIO()
        call_command("person", "add", "wim", "--role", "trainee", stdout=out)
        code = out.getvalue().split()[-1]
        self.assertEqual(services.find_code(code).person.username, "wim")
        call_command("person", "role", "wim", "press", stdout=out)
        call_command("person", "leave", "wim", stdout=out)
        call_command("person", "list", stdout=out)
        self.assertRegex(out.getvalue(), r"wim +press +has left; the records stay")
        with self.assertRaisesMessage(CommandError, "only lead"):
            call_command("person", "leave", "odile")
        with self.assertRaisesMessage(CommandError, "Nobody signs in"):
            call_command("person", "code", "nobody")


class SessionTests(PageCase):
    def setUp(self):
        self.tamsin = Person.objects.create_user("tamsin", password=_GOOD)
        self.client.login(username="tamsin", password=_GOOD)
        self.elsewhere = self.client_class()
        self.elsewhere.post(
            "/people/sign-in/", {"username": "tamsin", "password": _GOOD}, headers={"user-agent": "X (Mobi)"}
        )

    def test_they_are_seen_and_ended_one_by_one(self):
        page = self.client.get("/people/me/")
        self.assertContains(page, "Phone at 127.0.0.1")
        phone = Session.objects.get(device__startswith="Phone")
        self.client.post("/people/me/end-session/", {"session": phone.session_key[:8]})
        self.assertEqual(self.elsewhere.get("/").status_code, 302)
        self.assertEqual(self.client.get("/").status_code, 200)

    def test_another_password_ends_all_but_this_one(self):
        answer = self.client.post(
            "/people/me/",
            {"which": "password", "old": _GOOD, "password": "dry boards lie flat", "again": "dry boards lie flat"},
        )
        self.assertRedirects(answer, "/people/me/")
        self.assertEqual(self.elsewhere.get("/").status_code, 302)
        self.assertEqual(Session.objects.count(), 1)

    def test_a_wrong_present_password_changes_nothing(self):
        typed = {"which": "password", "old": "wrong", "password": "dry boards lie flat", "again": "dry boards lie flat"}
        self.assertContains(self.client.post("/people/me/", typed), "not your present password", status_code=422)
        self.assertEqual(self.elsewhere.get("/").status_code, 200)

    def test_somebody_elses_cannot_be_ended(self):
        other = Person.objects.create_user("bertrand", password=_GOOD)
        theirs = self.client_class()
        theirs.login(username="bertrand", password=_GOOD)
        key = Session.objects.get(person=other).session_key
        self.client.post("/people/me/end-session/", {"session": key[:8]})
        self.assertEqual(theirs.get("/").status_code, 200)

    def test_idle_ends_it_and_use_keeps_it(self):
        with later(hours=11):
            self.assertEqual(self.client.get("/").status_code, 200)
        with later(hours=22):
            self.assertEqual(self.client.get("/").status_code, 200)
            self.assertEqual(self.elsewhere.get("/").status_code, 302)

    def test_a_registered_tablet_stays_for_a_month_whoever_signs_in(self):
        Person.objects.filter(username="tamsin").update(role="lead")
        self.client.post("/people/me/tablet/", {"value": "yes"})
        self.client.post("/people/sign-out/")
        self.client.post("/people/sign-in/", {"username": "tamsin", "password": _GOOD})
        with later(days=29):
            self.assertEqual(self.client.get("/").status_code, 200)

    def test_keys_units_and_light_are_ones_own(self):
        self.assertContains(self.client.get("/people/me/"), "data-keys")
        self.client.post("/people/me/", {"which": "own", "units": "inch", "light": "safelight"})
        page = self.client.get("/people/me/")
        self.assertNotContains(page, "data-keys")
        self.assertContains(page, 'data-light="safelight"')


class SharedTabletTests(PageCase):
    """A screen's tension, recorded at the wall."""

    def setUp(self):
        self.people = small_shop()
        Person.objects.create_user("wall", password=_GOOD, role="station")
        services.set_person_code(self.people["tamsin"], "3806")
        self.client.login(username="wall", password=_GOOD)
        self.path = "/screens/Q-014/do/degrease/"

    def send(self, **more):
        page = self.client.get(self.path)
        form = page.context["form"]
        typed = {"revision": form["revision"].value(), "dwell_s": "30", "look": "clean", "rinsed": "on"}
        return self.client.post(self.path, typed | more)

    def test_a_record_is_held_until_it_is_signed_and_bears_the_right_name(self):
        asked = self.send(note="by the window")
        self.assertContains(asked, "Who records this?", status_code=422)
        self.assertContains(asked, 'value="by the window"', status_code=422)
        self.assertFalse(ScreenEvent.objects.exists())
        answer = self.send(person_code="3806")
        self.assertEqual(answer.status_code, 302, answer.content.decode())
        self.assertEqual(ScreenEvent.objects.get().by, self.people["tamsin"])

    def test_wrong_digits_keep_what_was_typed_and_slow_down(self):
        for _ in range(5):
            answer = self.send(person_code="7777", note="kept")
            self.assertContains(answer, "Nobody here signs", status_code=422)
            self.assertContains(answer, 'value="kept"', status_code=422)
        self.assertContains(self.send(person_code="3806"), "Too many tries: wait", status_code=422)
        self.assertFalse(ScreenEvent.objects.exists())

    def test_digits_are_not_good_for_what_only_leads_do(self):
        services.set_person_code(self.people["odile"], "5291")
        answer = self.client.post(
            "/people/add/", {"username": "x", "shown_name": "X", "role": "lead", "person_code": "5291"}
        )
        self.assertEqual(answer.status_code, 403)
        self.assertFalse(Person.objects.filter(username="x").exists())

    def test_digits_are_four_not_easy_and_nobody_elses(self):
        for digits, words in (
            ("12a4", "Four digits"), ("1234", "would try these first"), ("３８０６", "Four digits"),
            ("3806", "Choose others"),
        ):  # fmt: skip
            with self.subTest(digits), self.assertRaisesMessage(InvalidInput, words):
                services.set_person_code(self.people["odile"], digits)
        services.set_person_code(self.people["tamsin"], "")
        self.assertIsNone(queries.by_person_code("3806"))

    def test_a_tap_is_signed_by_whoever_signed_last_and_by_nobody_else(self):
        def tap():
            return self.client.post("/expose/run/1/taps/", '{"taps": []}', content_type="application/json")

        self.assertContains(tap(), "Nobody has signed at this tablet yet.", status_code=403)
        self.send(person_code="3806")
        # There is no such run: the tap has come as far as the page behind the door.
        self.assertEqual(tap().status_code, 404)
        services.leave(self.people["tamsin"])
        self.assertEqual(tap().status_code, 403)

    def test_looking_ahead_and_ones_own_page_ask_nobody(self):
        typed = {f"{place}_{way}": "23" for place in ("centre", "left") for way in ("warp", "weft")}
        ahead = self.client.post("/screens/Q-014/tension/preview/", typed)
        self.assertEqual(ahead["Content-Type"], "application/json")
        self.client.post("/people/set/light/", {"value": "safelight"})
        self.assertEqual(Person.objects.get(username="wall").light, "safelight")
        self.assertEqual(self.client.post("/people/sign-out/").status_code, 302)

    def test_whatever_records_is_guarded_by_a_role(self):
        """So that a shared tablet asks; what is not guarded writes to the own account alone."""
        own = {
            "own",
            "end-session",
            "ask-code",
            "code",
            "first-start",
            "set-preference",
            "save-search",
            "tension-preview",
        }
        unguarded = {
            pattern.name
            for pattern in every_pattern(get_resolver())
            if not hasattr(pattern.callback, "allowed") and "POST" in source_of(pattern.callback)
        }
        self.assertEqual(unguarded, own)


class ThrottleTests(PageCase):
    """Source: OWASP, Authentication Cheat Sheet: waits grow with each try in vain, and are not for good."""

    def setUp(self):
        self.tamsin = Person.objects.create_user("tamsin", password=_GOOD)
        # Waits are told by the clock, and a slow machine takes longer over its tries than the shortest wait.
        still = later()
        still.start()
        self.addCleanup(still.stop)

    def attempt(self, name="tamsin", password="", client=None, address="10.0.0.7"):
        typed = {"username": name, "password": password or "wrong"}
        return (client or self.client).post("/people/sign-in/", typed, REMOTE_ADDR=address)

    def test_waits_double_end_and_are_said(self):
        for _ in range(5):
            self.assertEqual(self.attempt().status_code, 200)
        answer = self.attempt(password=_GOOD)
        self.assertEqual((answer.status_code, answer["Retry-After"]), (429, "2"))
        self.assertContains(answer, 'value="tamsin"', status_code=429)
        with later(seconds=2.1):
            self.assertEqual(self.attempt().status_code, 200)
            self.assertEqual(self.attempt()["Retry-After"], "4")
        with later(seconds=7):
            self.assertEqual(self.attempt(password=_GOOD).status_code, 302)

    def test_tries_while_one_waits_do_not_make_the_wait_longer(self):
        for _ in range(40):
            self.attempt()
        self.assertEqual(FailedTry.objects.order_by("count").first().count, 5)
        with later(seconds=2.1):
            self.assertEqual(self.attempt(password=_GOOD).status_code, 302)

    def test_somebody_at_another_address_is_not_held_up(self):
        for _ in range(9):
            self.attempt()
        self.assertEqual(self.attempt(password=_GOOD, address="10.0.0.8").status_code, 302)

    def test_a_device_that_is_known_is_not_held_up_by_others_at_its_address(self):
        phone = self.client_class()
        self.assertEqual(self.attempt(password=_GOOD, client=phone).status_code, 302)
        phone.post("/people/sign-out/")
        for _ in range(9):
            self.attempt()
        self.assertEqual(self.attempt(client=self.client_class()).status_code, 429)
        self.assertEqual(self.attempt(password=_GOOD, client=phone).status_code, 302)

    def test_many_names_from_one_address_are_slowed_together(self):
        for n in range(30):
            self.assertEqual(self.attempt(name=f"somebody{n}").status_code, 200)
        self.assertEqual(self.attempt(name="another").status_code, 429)
        self.assertEqual(self.attempt(name="another", address="10.0.0.8").status_code, 200)

    def test_signing_in_again_over_a_typed_form_waits_as_the_door_does_and_keeps_no_password(self):
        typed = {"centre_warp_1": "24", "revision": "0"}
        for _ in range(5):
            page = self.client.post(
                "/screens/Q-014/tension/", typed | {"door-username": "tamsin", "door-password": "x"}
            )
            self.assertContains(page, '<input type="hidden" name="centre_warp_1" value="24">', status_code=401)
        answer = self.client.post(
            "/screens/Q-014/tension/", typed | {"door-username": "tamsin", "door-password": _GOOD}
        )
        self.assertContains(answer, "Too many tries in vain", status_code=429)
        self.assertContains(answer, '<input type="hidden" name="centre_warp_1" value="24">', status_code=429)
        new = {"old_password": _GOOD, "new_password1": "x", "new_password2": "x"}
        self.assertEqual(self.client.post("/people/me/", new).status_code, 302)
        self.assertEqual(self.client.post("/screens/Q-014/tension/", typed, headers={"X-Kept": "1"}).status_code, 302)

    def test_no_wait_is_longer_than_a_quarter_of_an_hour_and_an_hour_forgets(self):
        row = FailedTry(key="k", count=500, last_at=timezone.now())
        self.assertLessEqual(throttle._wait_s(row, 5, timezone.now()), 900)
        for _ in range(6):
            self.attempt()
        with later(minutes=61):
            self.assertEqual([self.attempt().status_code for _ in range(5)], [200] * 5)

    def test_a_next_that_points_to_the_sign_in_leads_to_today(self):
        self.client.force_login(self.tamsin)
        self.assertRedirects(
            self.client.get("/people/sign-in/?next=/people/sign-in/%3Fnext=/people/sign-in/"),
            "/",
            fetch_redirect_response=False,
        )


class FirstStartTests(PageCase):
    def setUp(self):
        own_data_folder(self)
        self.code = first_code.make()
        self.typed = {
            "code": self.code, "username": "Odile", "shown_name": "Odile", "password": _GOOD, "again": _GOOD,
            "time_zone": "Europe/Lisbon", "units": "inch", "paper": "letter",
            "decimal": "comma",
        }  # fmt: skip

    def test_every_way_leads_there_while_nobody_is_in_and_none_after(self):
        self.assertRedirects(self.client.get("/", follow=True), "/people/first-start/")
        with self.captureOnCommitCallbacks(execute=True):
            self.client.post("/people/first-start/", self.typed)
        lead = Person.objects.get()
        self.assertEqual((lead.username, lead.role, lead.units), ("odile", "lead", "inch"))
        self.assertEqual(HouseSetting.objects.get(key="room.paper").value, "letter")
        self.assertContains(self.client.get("/people/settings/"), "1,6")
        self.client.post("/people/sign-out/")
        self.assertRedirects(self.client.get("/people/first-start/"), "/people/sign-in/")
        self.client.post("/people/first-start/", self.typed | {"username": "intruder"})
        self.assertEqual(Person.objects.count(), 1)
        self.assertFalse(first_code.is_right(self.code))

    def test_a_wrong_code_is_slowed_and_makes_nobody(self):
        wrong = self.typed | {"code": "AAAA-AAAA-AAAA-AAAA"}
        for _ in range(5):
            self.assertContains(self.client.post("/people/first-start/", wrong), "not the code", status_code=422)
        self.assertContains(self.client.post("/people/first-start/", self.typed), "Too many tries", status_code=422)
        self.assertFalse(Person.objects.exists())

    def test_the_rooms_own_clock_is_shown(self):
        self.client.post("/people/first-start/", self.typed | {"time_zone": "Pacific/Kiritimati"})
        # Source: IANA time zone database: Pacific/Kiritimati is 14 h ahead of UTC all year.
        ahead = timezone.now() + timedelta(hours=14)
        self.assertContains(self.client.get("/"), f"{ahead:%A} {ahead.day} {ahead:%B}")
