"""A worker that dies is started again, and whoever watches the server is told the truth."""

import subprocess
import sys
import threading
from unittest import mock

from django.db import OperationalError
from django.test import SimpleTestCase, TestCase

from frimble.server import health, worker


def sleeper() -> subprocess.Popen:
    return subprocess.Popen([sys.executable, "-c", "import time; time.sleep(60)"])


class WatchedWorkerTests(SimpleTestCase):
    # Common practice, no source. A supervisor starts a dead process again and says so.

    def test_a_dead_worker_is_started_again_and_it_is_said(self):
        started, said, again = [], [], threading.Event()

        def start():
            started.append(sleeper())
            if len(started) == 2:
                again.set()
            return started[-1]

        prepared = mock.Mock()
        with mock.patch.object(worker, "start_process", start), mock.patch.object(worker, "_LOOK_EVERY_S", 0.05):
            watched = worker.WatchedWorker(said.append, prepared)
            self.assertTrue(watched.alive)
            with self.assertLogs("frimble.server.worker", "ERROR") as log:
                started[0].kill()
                self.assertTrue(again.wait(10))
            watched.stop()
        self.assertEqual(prepared.call_count, 2)
        self.assertEqual(said, ["The worker ended with -9 and was started again."])
        self.assertIn("ended with -9", log.output[0])
        self.assertIsNotNone(started[1].wait(10))
        self.assertEqual(len(started), 2)


class HealthTests(TestCase):
    def setUp(self):
        self.addCleanup(setattr, health, "worker", None)

    def test_it_answers_without_signing_in(self):
        answer = self.client.get("/health/")
        self.assertEqual((answer.status_code, answer.json()["status"]), (200, "ok"))
        self.assertEqual(answer.json()["worker"], "not watched here")

    def test_a_dead_worker_is_told(self):
        health.worker = mock.Mock(alive=True)
        self.assertEqual(self.client.get("/health/").status_code, 200)
        health.worker = mock.Mock(alive=False)
        with self.assertLogs("django.request", "ERROR"):
            self.assertEqual(self.client.get("/health/").status_code, 503)

    def test_a_database_that_does_not_answer_is_told(self):
        broken = mock.patch.object(health, "_oldest_waiting_s", side_effect=OperationalError("disk"))
        with broken, self.assertLogs("frimble.server.health", "ERROR"), self.assertLogs("django.request", "ERROR"):
            answer = self.client.get("/health/")
        self.assertEqual((answer.status_code, answer.json()["database"]), (503, "does not answer"))
