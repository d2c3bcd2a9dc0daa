"""What went wrong with a stencil, from a written case: the same rules as the page."""

import json
from pathlib import Path

from frimble.core.conclusions import InvalidInput
from frimble.core.stencil.diagnosis import words
from frimble.core.stencil.diagnosis.case import read_case
from frimble.core.stencil.diagnosis.causes import CAUSES
from frimble.core.stencil.diagnosis.model import diagnose
from frimble.ui.commands import AnswerCommand


class Command(AnswerCommand):
    help = "Rank what can have gone wrong with a stencil: a JSON file with symptoms and facts."

    def add_arguments(self, parser):
        super().add_arguments(parser)
        parser.add_argument("case", type=Path)

    def answer(self, options):
        case = _read(options["case"])
        diagnosis = diagnose(case.symptoms, case.facts)
        return _plain(case, diagnosis), _sentences(case, diagnosis)


def _read(path):
    try:
        written = json.loads(path.read_text(encoding="utf-8"))
    except (ValueError, RecursionError):
        raise InvalidInput(f"{path} is no JSON.") from None
    return read_case(written)


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
