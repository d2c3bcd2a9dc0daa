"""Work that outlasts a request: what it says of itself, how it ends, and how often it is tried."""

import logging
from unittest import mock

from django.utils import timezone

from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.films.models import Film, ScanCheck
from frimble.people import background
from frimble.testing.case import PageCase
from frimble.testing.shop import small_shop

_WORDS = background.FailureWords("no memory", "a fault ({fault})", "too often")
_LOGGER = logging.getLogger("frimble.people.tests")


class BackgroundTests(PageCase):
    def setUp(self):
        tamsin = small_shop()["tamsin"]
        film = Film.objects.create(name="Pennant", made_at=timezone.now(), made_by=tamsin)
        self.work = ScanCheck.objects.create(film=film, scan="scans/x", at=timezone.now(), by=tamsin)
        self.task = mock.Mock()

    def carry_out(self, do):
        background.carry_out(self.work, do, _WORDS, _LOGGER, "opening the scan")
        self.work.refresh_from_db()
        return self.work

    def raising(self, fault):
        def do(work):
            raise fault

        return do

    def test_while_it_waits_and_runs_it_says_how_far_it_is(self):
        self.assertEqual((self.work.percent_done, self.work.doing_words), (0, "waiting for its turn"))
        self.work.tell(0.426, "edges")
        self.work.refresh_from_db()
        self.assertEqual((self.work.percent_done, self.work.doing_words), (43, "edges"))
        self.assertEqual(self.work.progress(), {"ended": False, "share": 0.426, "doing": "edges"})
        self.assertFalse(self.work.done)

    def test_an_answer_ends_it(self):
        done = self.carry_out(lambda work: work.keep_result({"passed": True}))
        self.assertTrue(done.done)
        self.assertEqual((done.result, done.tries, done.progress()["ended"]), ({"passed": True}, 1, True))

    def test_what_cannot_be_is_refused_with_its_reason(self):
        for fault in (InvalidInput("No film is so small."), RuleViolation("Say the resolution first.")):
            ScanCheck.objects.update(state="waiting")
            self.work.refresh_from_db()
            self.assertEqual(self.carry_out(self.raising(fault)).state, "refused")
            self.assertEqual(self.work.refusal, str(fault))

    def test_a_fault_and_a_lack_of_memory_are_told_and_logged(self):
        for fault, words in ((ZeroDivisionError(), "a fault (ZeroDivisionError)"), (MemoryError(), "no memory")):
            ScanCheck.objects.update(state="waiting")
            self.work.refresh_from_db()
            with self.assertLogs(_LOGGER, "ERROR"):
                self.carry_out(self.raising(fault))
            self.assertEqual((self.work.state, self.work.refusal), ("failed", words))

    def test_what_has_ended_is_not_done_again(self):
        for state in ("done", "refused", "failed"):
            ScanCheck.objects.update(state=state)
            self.work.refresh_from_db()
            did = mock.Mock()
            self.carry_out(did)
            did.assert_not_called()

    def test_what_a_killed_worker_left_is_taken_up_and_after_three_times_given_up(self):
        ScanCheck.objects.update(state="running", tries=2, share_done=0.5)
        self.assertEqual(background.take_up_left(ScanCheck, self.task, _WORDS), 1)
        self.task.enqueue.assert_called_once_with(self.work.pk)
        ScanCheck.objects.update(state="running", tries=background.MOST_TRIES)
        self.assertEqual(background.take_up_left(ScanCheck, self.task, _WORDS), 0)
        self.work.refresh_from_db()
        self.assertEqual((self.work.state, self.work.refusal), ("failed", "too often"))

    def test_only_what_broke_off_is_put_again(self):
        with self.assertRaisesMessage(RuleViolation, "not now"):
            background.put_again(self.work, self.task, "not now")
        ScanCheck.objects.update(state="failed", refusal="no memory", tries=3)
        with self.captureOnCommitCallbacks(execute=True):
            background.put_again(self.work, self.task, "not now")
        self.work.refresh_from_db()
        self.assertEqual((self.work.state, self.work.refusal, self.work.tries), ("waiting", "", 0))
        self.task.enqueue.assert_called_once_with(self.work.pk)

    def test_its_page_shows_each_state(self):
        self.client.force_login(self.work.by)
        ScanCheck.objects.update(doing="edges", share_done=0.4, state="running")
        page = self.client.get(f"/film/sheets/{self.work.pk}/")
        self.assertContains(page, "Checking the scan")
        self.assertContains(page, 'value="40"')
        ScanCheck.objects.update(state="failed", refusal="no memory")
        self.assertContains(self.client.get(f"/film/sheets/{self.work.pk}/"), "Try again")
        ScanCheck.objects.update(state="refused", refusal="No film is so small.")
        page = self.client.get(f"/film/sheets/{self.work.pk}/")
        self.assertContains(page, "No film is so small.")
        self.assertNotContains(page, "Try again")
