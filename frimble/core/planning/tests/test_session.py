"""Sessions limited by pads."""

import random

from frimble.core.planning.session import session
from frimble.core.testing.case import CoreCase


def printed_one_by_one(pieces, pads, colours, print_s, dry_s):
    """The same session, every print put after what it needs: the hand, and the colour before on its piece."""
    now = 0.0
    for first in range(0, pieces, pads):
        batch = range(first, min(first + pads, pieces))
        dry_at = dict.fromkeys(batch, now)
        for _ in range(colours):
            for piece in batch:
                now = max(now, dry_at[piece]) + print_s
                dry_at[piece] = now + dry_s
    return now


class SessionTests(CoreCase):
    def test_the_closed_form_is_the_session_printed_one_by_one(self):
        # Source: a simulation of every single print.
        rng = random.Random(5)
        for _ in range(60):
            given = (
                rng.randint(1, 40),
                rng.randint(1, 12),
                rng.randint(1, 6),
                rng.randint(5, 40),
                rng.choice([0, 20, 90, 300]),
            )
            with self.subTest(given):
                self.assertAlmostEqual(session(*given).total_s, printed_one_by_one(*given))

    def test_enough_pads_do_away_with_waiting(self):
        # Source: by hand: 90 s of drying are 4 more prints of 25 s.
        found = session(24, 3, 4, 25, 90)
        self.assertEqual((found.rounds, found.wait_s, found.enough_pads), (8, 40, 5))
        self.assertEqual(session(25, 5, 4, 25, 90).wait_s, 0)
        self.assertEqual(session(24, 4, 4, 25, 90).wait_s, 15)

    def test_what_cannot_be_is_refused(self):
        for field, given in (("pieces", (0, 1, 1, 5, 0)), ("pads", (1, 0, 1, 5, 0)), ("print_s", (1, 1, 1, 0, 0))):
            self.assertInvalidInput(field, "", session, *given)
