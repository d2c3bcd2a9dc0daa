"""A record that a device kept while it had no network: taken once, at its own moment, wholly or not at all."""

import uuid
from datetime import timedelta

from django.utils import timezone

from frimble.screens.models import LateRecord, Screen, ScreenEvent
from frimble.testing.case import PageCase
from frimble.testing.shop import small_shop

BACKEND = "django.contrib.auth.backends.ModelBackend"


class LateRecordTests(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.client.force_login(self.people["tamsin"], backend=BACKEND)
        # The frame lay ready for days: what was kept for hours is not older than its own screen.
        self.moment = timezone.now() - timedelta(hours=3)
        self.number = str(uuid.uuid4())

    def tension(self, value="24", moment=None, by_script=True, **typed):
        kept = {"kept_number": self.number, "kept_moment": (moment or self.moment).isoformat()}
        readings = {"centre_warp_1": value, "centre_weft_1": value, "revision": 0}
        headers = {"X-Kept": "1"} if by_script else {}
        return self.client.post("/screens/Q-014/tension/", readings | kept | typed, headers=headers)

    def test_it_is_recorded_when_it_happened_and_the_device_is_told_the_revision(self):
        answer = self.tension()
        self.assertEqual(answer.json(), {"taken": True, "revision": 1})
        event = ScreenEvent.objects.get()
        self.assertEqual((event.at, event.by), (self.moment, self.people["tamsin"]))
        late = LateRecord.objects.get()
        self.assertEqual((late.happened_at, late.by), (self.moment, self.people["tamsin"]))
        self.assertLess(timezone.now() - late.taken_at, timedelta(minutes=1))

    def test_sent_twice_it_is_recorded_once(self):
        self.tension()
        self.assertEqual(self.tension().json(), {"taken": True, "revision": 1})
        self.assertEqual(ScreenEvent.objects.count(), 1)

    def test_refused_it_leaves_nothing_and_may_be_sent_again_mended(self):
        answer = self.tension("240")
        self.assertContains(answer, "Was 24.0 meant?", status_code=422)
        self.assertFalse(ScreenEvent.objects.exists() or LateRecord.objects.exists())
        self.assertRedirects(self.tension("24", by_script=False), "/screens/Q-014/")
        self.assertEqual(ScreenEvent.objects.get().at, self.moment)
        # The device asks once more, since it was sent from a page: nothing is recorded twice.
        self.assertEqual(self.tension("240").json()["taken"], True)

    def test_what_others_recorded_meanwhile_is_said(self):
        self.client.post("/screens/Q-014/place/", {"slot": "A-01", "revision": 0})
        answer = self.tension()
        self.assertContains(answer, "While this page was open", status_code=422)
        self.assertEqual(list(ScreenEvent.objects.values_list("kind", flat=True)), ["place"])

    def test_moments_that_cannot_be_believed_are_said_and_what_was_typed_waits(self):
        for moment, words in (
            (timezone.now() + timedelta(hours=1), "clock is ahead"),
            (timezone.now() - timedelta(days=20), "more than two weeks"),
        ):
            with self.subTest(words):
                answer = self.tension("24.7", moment=moment)
                self.assertContains(answer, words, status_code=422)
                self.assertContains(answer, 'value="24.7"', status_code=422)
                # Sent again from that page it happens now.
                self.assertNotContains(answer, "kept_moment", status_code=422)
        for bad in ({"kept_moment": "yesterday"}, {"kept_number": "1"}, {"kept_moment": "2026-11-02T10:00:00"}):
            with self.subTest(bad):
                self.assertContains(self.tension(**bad), "cannot be read", status_code=422)
        self.assertFalse(ScreenEvent.objects.exists())

    def test_steps_kept_one_after_the_other_keep_their_order_and_dry_from_their_own_moments(self):
        degreased = self.moment
        kept = {"kept_number": self.number, "kept_moment": degreased.isoformat()}
        page = {"revision": 0, "dwell_s": "30", "look": "clean", "rinsed": "on"}
        answer = self.client.post("/screens/Q-014/do/degrease/", page | kept, headers={"X-Kept": "1"})
        self.assertEqual(answer.json(), {"taken": True, "revision": 1})
        screen = Screen.objects.get(frame__code="Q-014")
        self.assertEqual(screen.since, degreased)
        # Degreased three hours ago it is dry by now, as it would be had there been a network.
        self.assertLess(screen.wet_until, timezone.now())

    def test_signed_out_nothing_is_taken_and_the_door_is_no_record(self):
        self.client.logout()
        answer = self.tension()
        self.assertEqual(answer.status_code, 302)
        self.assertIn("/people/sign-in/", answer.url)
        self.assertFalse(LateRecord.objects.exists())
        # Nor is anybody outside told what was taken.
        self.client.force_login(self.people["tamsin"], backend=BACKEND)
        self.tension()
        self.client.logout()
        self.assertEqual(self.tension().status_code, 302)

    def test_a_role_that_may_not_record_may_not_do_it_late(self):
        self.client.force_login(self.people["ines"], backend=BACKEND)
        self.assertEqual(self.tension().status_code, 403)
        self.assertFalse(LateRecord.objects.exists())
