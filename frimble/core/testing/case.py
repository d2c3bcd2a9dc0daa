"""What core tests share: no database, house settings at their defaults."""

import unittest
from collections.abc import Callable
from typing import Any

from frimble.core.conclusions import InvalidInput
from frimble.core.settings import HouseSettings


class CoreCase(unittest.TestCase):
    house_settings = HouseSettings()

    def assertInvalidInput(
        self, field: str, words: str, call: Callable[..., Any], *arguments: Any, **named: Any
    ) -> None:
        """The call raises InvalidInput for `field`, and the message holds `words`."""
        with self.assertRaises(InvalidInput) as caught:
            call(*arguments, **named)
        self.assertEqual(caught.exception.field, field)
        self.assertIn(words, str(caught.exception))
