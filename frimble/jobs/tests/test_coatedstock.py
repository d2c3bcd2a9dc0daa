"""Coated screens against what coming jobs want."""

from datetime import timedelta
from unittest import mock

from django.test import SimpleTestCase
from django.utils import timezone

from frimble.coatings.tests.test_coat import CoatCase
from frimble.core.coating.stock import ScreenDemand, balance
from frimble.jobs.models import Job, ScreenNeed
from frimble.testing.records import record


class BalanceTests(SimpleTestCase):
    def test_bare_screens_are_promised_once_and_the_nearest_job_first(self):
        wants = [
            ScreenDemand("J-2", 9, "43-80", "P1 S1", 3),
            ScreenDemand("J-1", 2, "43-80", "P2 S2", 2),
            ScreenDemand("J-3", 4, "77-48", "P1", 1),
        ]
        result = balance(wants, {("43-80", "P1 S1"): 1, ("77-48", "P1"): 2}, {"43-80": 3})
        # Source: arithmetic; two of the three bare ones go to the job in two days, one is left where two are short.
        self.assertEqual(
            [(b.first_job, b.short, b.bare) for b in result], [("J-1", 2, 3), ("J-2", 2, 1), ("J-3", 0, 0)]
        )
        self.assertIn("1 screen too few", result[1].words)
        self.assertEqual(result[2].words, "enough coated")


class StockPageTests(CoatCase):
    def test_a_job_s_wants_are_held_against_what_is_coated(self):
        self.client.force_login(self.tamsin, backend="django.contrib.auth.backends.ModelBackend")
        self.assertContains(self.client.get("/jobs/coated/"), "No coming job says what it wants")
        Job.objects.update(press_on=timezone.localdate() + timedelta(days=3))
        mesh = self.screen().installation.mesh
        typed = {"act": "need", "mesh": mesh.pk, "formula": "P1 Z", "number": "2"}
        self.assertContains(self.client.post("/jobs/J-301/", typed), "Character 4", status_code=422)
        self.client.post("/jobs/J-301/", typed | {"formula": "p1 s1"})
        self.assertEqual(ScreenNeed.objects.get().formula, "P1 S1")
        self.coat()
        page = self.client.get("/jobs/coated/")
        self.assertContains(page, "P1 S1: 1 short")
        self.assertIn(", in 3 days: coat 1 of the 2 bare ones", " ".join(page.content.decode().split()))
        self.assertNotContains(page, "are the oldest")
        with mock.patch("frimble.jobs.views._COATED_SHOWN", 0):
            self.assertContains(self.client.get("/jobs/coated/"), "are the oldest")

    def test_a_late_job_still_wants_and_a_stencil_that_is_made_wants_no_coat(self):
        self.client.force_login(self.tamsin, backend="django.contrib.auth.backends.ModelBackend")
        Job.objects.update(press_on=timezone.localdate() - timedelta(days=1))
        need = ScreenNeed.objects.create(
            job=Job.objects.get(), mesh=self.screen().installation.mesh, formula="P1 S1", number=1
        )
        self.assertContains(self.client.get("/jobs/coated/"), ", 1 day late: coat 1 of the")
        # Common practice, no source: a screen that is exposed is not coated again for the same job.
        self.coat()
        ScreenNeed.objects.filter(pk=need.pk).update(frame=self.screen().frame)
        self.assertContains(self.client.get("/jobs/coated/"), "<b>1</b> wanted, <b>1</b>")
        record("Q-014", "dry_check", self.tamsin, summary="Dry", facts={"verdict": "dry", "wet_until": None})
        record("Q-014", "expose", self.tamsin, summary="Exposed")
        page = self.client.get("/jobs/coated/")
        self.assertContains(page, "Nothing runs short")
        self.assertContains(page, "Nothing wanted.")
