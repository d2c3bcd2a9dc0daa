"""What core tests share: no database, house settings at their defaults."""

import unittest

from frimble.core.conclusions import InvalidInput
from frimble.core.settings import HouseSettings


class CoreCase(unittest.TestCase):
    house_settings = HouseSettings()

    def assertInvalidInput(self, field, words, call, *arguments, **named):
        """The call raises InvalidInput for `field`, and the message holds `words`."""
        with self.assertRaises(InvalidInput) as caught:
            call(*arguments, **named)
        self.assertEqual(caught.exception.field, field)
        self.assertIn(words, str(caught.exception))
