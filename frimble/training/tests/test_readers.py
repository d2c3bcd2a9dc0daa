"""How far two readers of the same step tests agree, read off the shop's own readings."""

from dataclasses import dataclass

import numpy as np
from django.utils import timezone
from statsmodels.stats.inter_rater import cohens_kappa, to_table

from frimble.core.exposure.steptest.reading import GRADES
from frimble.exposures.models import ReadStep, StepPhoto, StepTest, TestReading
from frimble.exposures.tests.test_exposures import LampCase
from frimble.training import agreement


@dataclass(frozen=True)
class Read:
    """Who read a test, and the grade of each strip as its place among all grades."""

    by: str
    grades: tuple[int, ...]
    photo: bool = False


class ReadersTests(LampCase):
    def a_test(self, *readings: Read) -> StepTest:
        """A step test that several people read, one after the other."""
        self.start_test(steps=6)
        test = StepTest.objects.latest("pk")
        for read in readings:
            self._keep(test, read)
        return test

    def _keep(self, test: StepTest, read: Read) -> None:
        person, now = self.people[read.by], timezone.now()
        photo = None
        if read.photo:
            photo = StepPhoto.objects.create(
                step_test=test,
                dpi=600,
                scale_bar_mm=200,
                wanted_opening_um=150,
                result={"steps": []},
                at=now,
                by=person,
            )
        reading = TestReading.objects.create(
            step_test=test, school="middle", wanted_opening_um=150, outcome="good", photo=photo, read_by=person, read_at=now
        )  # fmt: skip
        for strip, grade in enumerate(read.grades, start=1):
            ReadStep.objects.create(reading=reading, strip=strip, time_s=10.0 * strip, grade=GRADES[grade])

    def test_kappa_is_that_of_a_general_library(self):
        one, other = (0, 1, 1, 2, 3, 3), (0, 1, 2, 2, 3, 2)
        self.a_test(Read("tamsin", one), Read("odile", other))
        (pair,) = agreement.pairs()
        self.assertEqual((pair.one, pair.other), ("Odile", "Tamsin"))
        # Source: statsmodels, Cohen's kappa with linear weights over all grades.
        table = to_table(np.column_stack([other, one]), bins=np.arange(len(GRADES) + 1))[0]
        self.assertAlmostEqual(pair.found.kappa.value, cohens_kappa(table, wt="linear").kappa)
        self.assertAlmostEqual(pair.found.equal, 4 / 6)

    def test_the_strips_on_which_they_differ_most_are_named(self):
        self.a_test(Read("tamsin", (0, 1, 1, 2, 3, 3)), Read("odile", (0, 3, 2, 2, 3, 3)))
        # Source: by hand: strip 2 is two grades apart, strip 3 one, the rest alike.
        self.assertEqual(agreement.pairs()[0].differ, "2, 3")

    def test_who_reads_all_alike_differs_nowhere(self):
        self.a_test(Read("tamsin", (0, 1, 1, 2, 3, 3)), Read("odile", (0, 1, 1, 2, 3, 3)))
        (pair,) = agreement.pairs()
        self.assertEqual((pair.found.kappa.value, pair.differ), (1, ""))

    def test_of_each_reader_the_newest_reading_of_a_test_counts(self):
        self.a_test(
            Read("tamsin", (3, 3, 3, 3, 0, 0)), Read("odile", (0, 1, 1, 2, 3, 3)), Read("tamsin", (0, 1, 1, 2, 3, 3))
        )
        self.assertEqual(agreement.pairs()[0].found.kappa.value, 1)

    def test_the_photo_reader_is_a_reader_of_its_own(self):
        self.a_test(
            Read("tamsin", (0, 1, 1, 2, 3, 3)), Read("tamsin", (0, 1, 1, 2, 3, 2), photo=True),
            Read("odile", (3, 2, 2, 1, 0, 0)),
        )  # fmt: skip
        found = {(pair.one, pair.other): pair.found.kappa.value for pair in agreement.pairs()}
        self.assertEqual(
            set(found), {("Odile", "Tamsin"), ("Odile", "the photo reader"), ("Tamsin", "the photo reader")}
        )
        # Those who agree least stand first.
        self.assertEqual(list(found.values()), sorted(found.values()))

    def test_too_few_strips_say_nothing(self):
        self.a_test(Read("tamsin", (0, 1, 2, 3)), Read("odile", (0, 1, 2, 3)))
        self.assertEqual(agreement.pairs(), [])

    def test_leads_see_it_on_the_page_of_skills(self):
        self.a_test(Read("tamsin", (0, 1, 1, 2, 3, 3)), Read("odile", (0, 1, 2, 2, 3, 3)))
        self.client.force_login(self.odile)
        page = self.client.get("/training/people/")
        self.assertContains(page, "Odile and Tamsin")
        self.assertContains(page, "of 6 strips the same; apart most on strip 3.")
