"""Each request that writes leaves one line: who, what, which screen; nothing of what was typed."""

from django.test import TestCase

from frimble.testing.shop import small_shop

_LOG = "frimble.writes"
_DEGREASE = "/screens/Q-014/do/degrease/"


class WriteLogTests(TestCase):
    # Common practice, no source. An audit line names person, deed and object, and carries no free text.

    def setUp(self):
        self.people = small_shop()
        self.client.force_login(self.people["tamsin"])

    def test_a_record_leaves_one_line(self):
        with self.assertLogs(_LOG, "INFO") as log:
            self.client.post(_DEGREASE, {"dwell_s": 30, "revision": 0, "rinsed": "on", "note": "ink by Bo"})
        self.assertEqual(len(log.output), 1)
        self.assertIn("who=tamsin what=screens:step/degrease screen=Q-014 rows=", log.output[0])
        self.assertIn("ScreenEvent", log.output[0])
        self.assertNotIn("Bo", log.output[0])

    def test_what_is_refused_or_only_looked_at_leaves_none(self):
        with self.assertNoLogs(_LOG, "INFO"):
            self.client.post(_DEGREASE, {"dwell_s": "much"})
            self.client.get("/screens/Q-014/")

    def test_a_password_never_reaches_the_log(self):
        self.client.logout()
        with self.assertLogs(_LOG, "INFO") as log:
            self.client.post("/people/sign-in/", {"username": "tamsin", "password": "tamsin-pennant"})
        self.assertNotIn("pennant", "".join(log.output))
