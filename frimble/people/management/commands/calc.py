"""`manage.py calc`: every calculator of the core, with the house settings in force, as JSON."""

import json

from django.core.management.base import BaseCommand, CommandError

from frimble.core.calculators import CALCULATORS, calculate
from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.people import settings as house_settings


class Command(BaseCommand):
    help = "Run a calculator: calc --list, or calc mesh count=43/cm thread_um=80. Prints JSON."

    def add_arguments(self, parser):
        parser.add_argument("name", nargs="?", help="calculator")
        parser.add_argument("arguments", nargs="*", help="name=value")
        parser.add_argument("--list", action="store_true", help="list every calculator with its arguments")

    def handle(self, *args, name, arguments, **options):
        if options["list"] or not name:
            self._print([self._describe(c) for c in CALCULATORS.values()])
            return
        given = dict(self._split(text) for text in arguments)
        try:
            self._print(calculate(name, given, house_settings.current_or_defaults()))
        except InvalidInput as error:
            self._print({"error": str(error), "field": error.field})
            raise SystemExit(2) from None
        except RuleViolation as refusal:
            self._print({"refused": refusal.reason, "field": refusal.field})
            raise SystemExit(3) from None

    def _split(self, text):
        name, equals, value = text.partition("=")
        if not equals:
            raise CommandError(f"“{text}” is not name=value.")
        return name, value

    def _describe(self, calculator):
        return {
            "name": calculator.name,
            "summary": calculator.summary,
            "arguments": dict(calculator.arguments),
            "optional": sorted(calculator.optional),
        }

    def _print(self, value):
        self.stdout.write(json.dumps(value, indent=2, ensure_ascii=False))
