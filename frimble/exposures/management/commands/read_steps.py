"""Read a step test off a photo from the command line: the same rules as the page."""

import json
from dataclasses import replace
from pathlib import Path

from django.core.management.base import BaseCommand, CommandError

from frimble.people import settings as house_settings


class Command(BaseCommand):
    help = "Read a photo of a rinsed step test made with the step-test film."

    def add_arguments(self, parser):
        parser.add_argument("photo", type=Path)
        parser.add_argument("--target", type=Path, required=True, help="the JSON geometry written with the film")
        parser.add_argument("--times", required=True, help="seconds of light of step 1, 2, …, parted by commas")
        parser.add_argument("--want-um", type=float, help="finest opening that must stay clear")
        parser.add_argument("--scale-bar-mm", type=float, default=200, help="what the film's scale bar measures")
        parser.add_argument("--json", action="store_true", help="one JSON object instead of sentences")

    def handle(self, *args, **options):
        from frimble.core.conclusions import InvalidInput

        try:
            reading = _read(options)
        except OSError as error:
            self._refuse(f"{error.filename} cannot be opened: {error.strerror}.", options)
        except UnicodeDecodeError:
            self._refuse(f"{options['target']} is not the film's JSON geometry.", options)
        except InvalidInput as error:
            self._refuse(str(error), options)
        self.stdout.write(json.dumps(_plain(reading)) if options["json"] else _sentences(reading))

    def _refuse(self, words: str, options):
        """End with an error; who reads the output alone learns of it too."""
        from frimble.core.exposure.photo.concluding import unread

        if options["json"]:
            self.stdout.write(json.dumps(_plain(replace(unread((), options["want_um"] or 0.0, words), next_test=""))))
        raise CommandError(words)


def _read(options):
    # Loaded here: the image libraries cost a second that no other command should pay.
    from frimble.core.exposure.photo.reading import read_photo
    from frimble.core.exposure.target.geometry import from_json
    from frimble.core.numbers import read_numbers

    settings = house_settings.current_or_defaults()
    wanted = options["want_um"] or settings["steptest.wanted_opening_um"]
    target = from_json(options["target"].read_text(encoding="utf-8"))
    times, photo = read_numbers(options["times"], "times"), options["photo"].read_bytes()
    return read_photo(photo, target, times, wanted, settings, options["scale_bar_mm"]).reading


def _plain(found) -> dict:
    return {
        "steps": [
            {
                "index": s.index,
                "time_s": s.time_s,
                "verdict": s.verdict,
                "density": _rounded(s.density),
                "finest_open_um": s.finest_opening_um,
                "thinnest_line_um": s.thinnest_line_um,
            }
            for s in found.steps
        ],
        "recommended_s": _rounded(found.recommended_s),
        "low_s": _rounded(found.low_s),
        "high_s": _rounded(found.high_s),
        "finest_open_um": found.finest_open_um,
        "confidence": round(found.confidence, 3),
        "sure": found.sure,
        "refused": found.refused or None,
        "reason": found.reason,
        "next_test": found.next_test or None,
        "next_guess_s": _rounded(found.next_guess_s),
    }


def _rounded(value: float | None) -> float | None:
    return None if value is None else round(value, 3)


def _sentences(found) -> str:
    from frimble.core.units import show_seconds

    lines = [f"Step {s.index}, {show_seconds(s.time_s)}: {s.verdict}" for s in found.steps]
    if found.refused:
        return "\n".join([*lines, f"No time: {found.refused}"])
    lines.append(f"Use {show_seconds(found.recommended_s)}, {found.confidence * 100:.0f} % sure. {found.reason}")
    return "\n".join([*lines, found.next_test] if found.next_test else lines)
