"""Drills, marks, ratings, repetition and agreement."""

import math
import random
from datetime import UTC, datetime, timedelta
from itertools import combinations

import numpy as np
from scipy.special import erf
from scipy.stats import kendalltau
from statsmodels.stats.inter_rater import cohens_kappa

from frimble.core.conclusions import InvalidInput
from frimble.core.testing.case import CoreCase
from frimble.core.training.agreement import agreement
from frimble.core.training.drill import LEVELS, Asks, Drill, Question, mark
from frimble.core.training.drills.strips import HEAD_MM, PX_MM, ROW_MM, STRIP_MM, WIDTHS_UM, TestedCoat, washed_strips
from frimble.core.training.rating import ability, difficulty
from frimble.core.training.scene import Words
from frimble.core.training.schedule import drilled
from frimble.core.training.skills import SKILLS, drill


def asked(question: Question) -> Drill:
    return Drill("", (question,), "")


class MarkTests(CoreCase):
    def test_a_number_is_right_within_its_tolerance_and_half_within_twice(self):
        question = Question("n", "How long", Asks.NUMBER, 40.0, tolerance=0.1, relative=True)
        for given, score in ((44.0, 1), (47.9, 0.5), (48.2, 0), (36, 1), (33, 0.5)):
            self.assertEqual(mark(asked(question), {"n": given}).score, score)

    def test_an_order_is_worth_kendall_s_tau_and_never_less_than_nothing(self):
        # Source: scipy.stats.kendalltau of the same orders.
        letters = "abcde"
        question = Question("o", "Order", Asks.ORDER, tuple(letters), tuple((c, c) for c in letters))
        rng = random.Random(1)
        for _ in range(20):
            given = rng.sample(letters, 5)
            tau = kendalltau(range(5), [given.index(c) for c in letters]).statistic
            self.assertAlmostEqual(mark(asked(question), {"o": given}).score, max(0.0, tau))

    def test_of_many_it_is_what_is_shared(self):
        # Source: Jaccard: 1 of 3.
        question = Question("m", "Which", Asks.MANY, frozenset("ab"), tuple((c, c) for c in "abc"))
        self.assertAlmostEqual(mark(asked(question), {"m": ["a", "c"]}).score, 1 / 3)
        self.assertEqual(mark(asked(question), {"m": []}).score, 0)

    def test_taps_too_few_or_too_many_cost(self):
        question = Question("t", "Tap", Asks.TAPS, (2.0, 4.0), tolerance=0.5)
        self.assertEqual(mark(asked(question), {"t": [2.2, 4.8]}).score, 0.75)
        self.assertEqual(mark(asked(question), {"t": [2.2]}).score, 0.5)
        self.assertAlmostEqual(mark(asked(question), {"t": [2, 4, 6]}).score, 2 / 3)

    def test_no_answer_or_one_that_is_none_is_refused_by_name(self):
        one = Question("q", "Which", Asks.ONE, "a", (("a", "a"), ("b", "b")))
        for given in ({}, {"q": ""}, {"q": "z"}):
            with self.assertRaises(InvalidInput) as refused:
                mark(asked(one), given)
            self.assertEqual(refused.exception.field, "q")


def word_box(words: Words) -> tuple[float, float, float, float, str]:
    """Left, top, right, bottom of some words, and the words."""
    # Source: the shipped face, measured in Chromium: letters are 0.48 of their size wide, digits 0.50, capitals 0.68 high.
    wide = 0.5 * words.size * len(words.text)
    left = words.x - wide * {"start": 0, "middle": 0.5, "end": 1}[words.anchor]
    return left, words.y - 0.7 * words.size, left + wide, words.y, words.text


def meet(a: tuple, b: tuple) -> bool:
    return a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3]


class DrillTests(CoreCase):
    def test_the_truth_is_right_everywhere_and_the_same_seed_is_the_same_drill(self):
        for skill in SKILLS:
            for level in LEVELS:
                for seed in range(6):
                    made = drill(skill, level, seed, self.house_settings)
                    truth = {q.name: q.right for q in made.questions}
                    with self.subTest((skill, level, seed)):
                        self.assertAlmostEqual(mark(made, truth).score, 1)
                        again = drill(skill, level, seed, self.house_settings)
                        self.assertEqual((again.story, again.scene), (made.story, made.scene))
                        self.assertTrue(made.why)
                        self.has_words_apart(made)

    def has_words_apart(self, made):
        """In both drawings no word lies on another or leaves the drawing."""
        for scene in filter(None, (made.scene, made.explained)):
            boxes = [word_box(shape) for shape in scene.shapes if isinstance(shape, Words)]
            self.assertEqual([f"{a[4]} | {b[4]}" for a, b in combinations(boxes, 2) if meet(a, b)], [])
            self.assertEqual(
                [b[4] for b in boxes if b[0] < 0 or b[1] < 0 or b[2] > scene.wide or b[3] > scene.high], []
            )

    def test_the_picture_never_tells_the_answer(self):
        # The explained scene holds what the asked one does not.
        for skill in SKILLS:
            made = drill(skill, 3, 1, self.house_settings)
            if made.scene and skill != "clock":
                self.assertGreater(len(made.explained.shapes), len(made.scene.shapes), skill)

    def test_the_step_test_s_time_lies_in_the_window_that_is_drawn(self):
        # Source: common practice: the geometric middle of the first cured and the last open strip.
        for seed in range(40):
            made = drill("steps", 3, seed, self.house_settings)
            asks = {q.name: q for q in made.questions}
            if "cured" in asks:
                self.assertLessEqual(int(asks["cured"].right), int(asks["open"].right))

    def test_the_step_test_s_photo_shows_what_is_right(self):
        # Source: the strips that are drawn: lines of 150 µm pass light up to the strip that is right, and in none after it.
        row = slice(*(round((HEAD_MM + ROW_MM * (WIDTHS_UM.index(150) + k)) * PX_MM) for k in (0, 1)))
        shown = 0
        for seed in range(40):
            made = drill("steps", 3, seed, self.house_settings)
            asks = {q.name: q for q in made.questions}
            if "open" in asks:
                strips = np.array_split(made.photo[row], made.photo.shape[1] // round(STRIP_MM * PX_MM), axis=1)
                passing = [float((strip > 100).mean()) > 0.01 for strip in strips]
                last = int(asks["open"].right)
                cured = int(asks["cured"].right)
                with self.subTest(seed):
                    self.assertEqual(passing[last:], [False] * len(passing[last:]))
                    self.assertTrue(last == cured or passing[last - 1])
                shown += 1
        self.assertGreater(shown, 20)

    def test_a_wanted_line_closes_when_the_latitude_says(self):
        # Source: the middle of a slit has 1 - erf(w / (2√2·σ)) of the light, by scipy; the coat closes it at its gel.
        coat = TestedCoat(20.0, 1.8, 150.0)
        light = coat.light(36.0)
        middle = 1 - (1 - light.leak) * erf(150 / (2 * math.sqrt(2) * light.spread_um))
        self.assertAlmostEqual(middle * 36.0, light.gel_s, places=6)
        times = (20.0, 30.0, 36.5, 50.0)
        self.assertEqual(washed_strips(times, coat, random.Random(1)).wanted_open, (True, True, False, False))

    def test_what_went_wrong_shows_in_the_photo(self):
        # Source: the trade: too much light closes openings, too little washes stencil away.
        shares = {}
        for seed in range(60):
            made = drill("stencils", 1, seed, self.house_settings)
            cause = next(q.right for q in made.questions if q.name == "cause")
            shares.setdefault(cause, float(made.photo.mean()))
        self.assertLess(shares["over"], shares["right"])
        self.assertGreater(shares["under"], shares["right"])

    def test_an_unknown_skill_or_level_is_refused(self):
        for skill, level in (("juggling", 1), ("steps", 0), ("steps", 6)):
            with self.assertRaises(InvalidInput):
                drill(skill, level, 1, self.house_settings)


class RatingTests(CoreCase):
    def test_trainees_of_known_skill_are_placed_within_a_level_after_ten_drills(self):
        # Source: answers drawn from Rasch's model itself by numpy, and from another curve (probit, with slips).
        rng = np.random.default_rng(11)

        def rasch(able, hard):
            return 1 / (1 + math.exp(hard - able))

        def other(able, hard):
            return 0.04 + 0.93 * 0.5 * (1 + math.erf((able - hard) / 1.6 / math.sqrt(2)))

        for curve, least in ((rasch, 0.9), (other, 0.85)):
            near = 0
            for _ in range(200):
                true = float(rng.uniform(1, 5))
                done: list[tuple[int, float]] = []
                for _ in range(10):
                    level = ability(done).next_level
                    right = rng.random(3) < curve(difficulty(true), difficulty(level))
                    done.append((level, float(right.mean())))
                near += abs(ability(done).level - true) <= 1
            self.assertGreaterEqual(near / 200, least, curve.__name__)

    def test_without_a_drill_it_is_the_middle_and_little_is_known(self):
        found = ability([])
        self.assertEqual((found.next_level, found.drills), (3, 0))
        self.assertGreater(found.high - found.low, 4)

    def test_right_answers_lead_up_and_wrong_ones_down(self):
        self.assertGreater(ability([(3, 1.0)] * 4).next_level, 3)
        self.assertLess(ability([(3, 0.0)] * 4).next_level, 3)


class ScheduleTests(CoreCase):
    def test_what_went_well_comes_later_each_time_and_what_did_not_comes_soon(self):
        # Source: spacing effect: intervals grow with each success.
        at, known, gaps = datetime(2026, 5, 4, 8, tzinfo=UTC), None, []
        for _ in range(5):
            known = drilled(known, 0.9, at)
            gaps.append(known.due - at)
            at = known.due
        self.assertEqual(gaps, sorted(gaps))
        self.assertGreater(gaps[-1], timedelta(days=10))
        failed = drilled(known, 0.1, at)
        self.assertLess(failed.due - at, timedelta(days=1))

    def test_memory_fades(self):
        at = datetime(2026, 5, 4, 8, tzinfo=UTC)
        known = drilled(drilled(None, 0.9, at), 0.9, at + timedelta(hours=5))
        self.assertGreater(known.remembered(at + timedelta(days=1)), known.remembered(at + timedelta(days=40)))


class AgreementTests(CoreCase):
    def test_weighted_kappa_and_its_interval(self):
        # Source: statsmodels.stats.inter_rater.cohens_kappa, linear weights.
        rng = np.random.default_rng(2)
        one = rng.integers(0, 5, 80)
        other = np.clip(one + rng.integers(-1, 2, 80), 0, 4)
        table = np.zeros((5, 5))
        np.add.at(table, (one, other), 1)
        theirs = cohens_kappa(table, wt="linear")
        found = agreement(one.tolist(), other.tolist(), 5)
        self.assertAlmostEqual(found.kappa.value, theirs.kappa, places=9)
        self.assertAlmostEqual(found.kappa.high - found.kappa.value, 1.6449 * theirs.std_kappa, places=6)

    def test_the_same_readings_agree_wholly_and_few_or_equal_ones_tell_nothing(self):
        self.assertEqual(agreement([0, 1, 2, 3, 4], [0, 1, 2, 3, 4], 5).kappa.value, 1)
        self.assertIsNone(agreement([1, 2], [1, 2], 5))
        self.assertIsNone(agreement([2] * 9, [2] * 9, 5))
        with self.assertRaises(InvalidInput):
            agreement([1], [1, 2], 5)
