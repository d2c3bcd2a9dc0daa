"""What core tests share: no database, house standards at their defaults."""

import unittest

from frimble.core.conclusions import OutOfRange
from frimble.core.settings import Standards


class CoreCase(unittest.TestCase):
    standards = Standards()

    def assertOutOfRange(self, field, words, call, *arguments, **named):
        """The call raises OutOfRange for `field`, and the message holds `words`."""
        with self.assertRaises(OutOfRange) as caught:
            call(*arguments, **named)
        self.assertEqual(caught.exception.field, field)
        self.assertIn(words, str(caught.exception))
