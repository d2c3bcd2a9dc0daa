"""What every conclusion offers: its known value, its interval, its verdict."""

import math
from unittest import TestCase

from frimble.core import verdicts
from frimble.core.conclusions import Conclusion, RuleViolation
from frimble.core.statistics.interval import Interval, around
from frimble.core.verdicts import BatchAge, NoVerdict, Verdict


def concluded(value, low=None, high=None):
    return Conclusion(value, "s", NoVerdict.NONE, "Nobody measured it.", "measured here", low, high)


class KnownTests(TestCase):
    def test_a_value_is_known_with_its_ends(self):
        self.assertEqual(concluded(20, 15, 30).known, 20)
        self.assertEqual(concluded(20, 15, 30).interval, Interval(20, 15, 30))

    def test_a_refusal_passes_its_reason_on(self):
        with self.assertRaises(RuleViolation) as refused:
            _ = concluded(None).known
        self.assertEqual(refused.exception.reason, "Nobody measured it.")

    def test_a_bound_on_one_side_is_no_interval(self):
        for low, high in ((15, None), (None, 30)):
            with self.subTest(low=low), self.assertRaises(RuleViolation):
                _ = concluded(20, low, high).interval


class IntervalTests(TestCase):
    def test_of_a_logarithm_it_is_a_factor_to_either_side(self):
        # Source: the exponential of a symmetric interval reaches as far in ratio.
        found = around(math.log(20), math.log(2)).exp()
        for value, wanted in zip(found, (20, 10, 40), strict=True):
            self.assertAlmostEqual(value, wanted)


class VerdictTests(TestCase):
    def test_a_verdict_reads_as_its_word(self):
        self.assertEqual(f"{BatchAge.PAST}", "past its life")
        self.assertEqual(BatchAge.FRESH, "fresh")

    def test_it_says_whether_somebody_has_to_act(self):
        self.assertEqual([v.due for v in BatchAge], [False, True, True])

    def test_no_subject_has_one_word_twice(self):
        subjects = [v for v in vars(verdicts).values() if isinstance(v, type) and issubclass(v, Verdict) and list(v)]
        self.assertGreater(len(subjects), 15)
        for subject in subjects:
            self.assertEqual(len({str(v) for v in subject}), len(subject.__members__), subject.__name__)
