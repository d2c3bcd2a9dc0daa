"""What went wrong with a stencil, from a written case: the same rules as the page."""

import json
from pathlib import Path

from django.core.management.base import BaseCommand

from frimble.core.conclusions import InvalidInput
from frimble.core.stencil.diagnosis import words
from frimble.core.stencil.diagnosis.case import read_case
from frimble.core.stencil.diagnosis.causes import CAUSES
from frimble.core.stencil.diagnosis.model import diagnose


class Command(BaseCommand):
    help = "Rank what can have gone wrong with a stencil: a JSON file with symptoms and facts."

    def add_arguments(self, parser):
        parser.add_argument("case", type=Path)
        parser.add_argument("--json", action="store_true", help="one JSON object instead of sentences")

    def handle(self, *args, **options):
        try:
            case = read_case(json.loads(options["case"].read_text(encoding="utf-8")))
        except OSError as error:
            self._unusable(f"{options['case']} cannot be opened: {error.strerror}.")
        except InvalidInput as error:
            self._unusable(str(error))
        except (ValueError, RecursionError):
            self._unusable(f"{options['case']} is no JSON.")
        diagnosis = diagnose(case.symptoms, case.facts)
        self.stdout.write(json.dumps(_plain(case, diagnosis)) if options["json"] else _sentences(case, diagnosis))

    def _unusable(self, message):
        self.stdout.write(json.dumps({"error": message}))
        raise SystemExit(2)


def _plain(case, diagnosis) -> dict:
    return {
        "causes": [
            {
                "cause": ranked.cause,
                "probability": round(ranked.probability, 6),
                "because": [words.by_name(r, case.facts) for r in ranked.because],
                "against": [words.by_name(r, case.facts) for r in ranked.against],
                "do": CAUSES[ranked.cause].now,
                "next_time": CAUSES[ranked.cause].next_time,
            }
            for ranked in diagnosis.causes
        ],
        "none_of_these": round(diagnosis.none_of_these, 6),
        "ask": list(diagnosis.ask),
        "ignored": list(case.ignored),
    }


def _sentences(case, diagnosis) -> str:
    lines = [words.summary(diagnosis)]
    for ranked in diagnosis.causes[:3]:
        card = CAUSES[ranked.cause]
        lines.append(f"{ranked.probability:.0%} {card.label}. {card.now}")
        lines += [f"  {words.on_page(r, case.facts)}" for r in ranked.because]
    if diagnosis.ask:
        lines.append(f"What would tell most: {words.asked(diagnosis.ask[:3])}.")
    return "\n".join(lines)
