"""Commands that answer with one JSON object or in sentences, and say as plainly what they cannot use."""

import json

from django.core.management.base import BaseCommand


def corner(text: str) -> tuple[float, float]:
    """A pixel of a photo, typed as X,Y."""
    x, y = text.split(",")
    return float(x), float(y)


def two_lengths(text: str) -> tuple[float, float]:
    """Width and height in mm, typed as W,H."""
    return corner(text)


class AnswerCommand(BaseCommand):
    """Exit code 0 with an answer, a refusal among them; 2 with `{"error": …}` where the arguments cannot be used."""

    def add_arguments(self, parser):
        parser.add_argument("--json", action="store_true", help="one JSON object instead of sentences")

    def answer(self, options) -> tuple[dict, str]:
        """The answer as plain values, and in sentences.

        Raises:
            InvalidInput, OSError: the arguments cannot be used.
        """
        raise NotImplementedError

    def handle(self, *args, **options):
        # Loaded here: the image libraries cost a second that no other command should pay.
        from frimble.core.conclusions import InvalidInput

        try:
            plain, sentences = self.answer(options)
        except OSError as error:
            self._unusable(f"{error.filename} cannot be opened: {error.strerror}.")
        except InvalidInput as error:
            self._unusable(str(error))
        self.stdout.write(json.dumps(plain) if options["json"] else sentences)

    def _unusable(self, message):
        self.stdout.write(json.dumps({"error": message}))
        raise SystemExit(2)
