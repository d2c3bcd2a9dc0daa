"""How far two readers agree on the steps that both have read."""

from collections import defaultdict
from dataclasses import dataclass
from itertools import combinations

from frimble.core.exposure.steptest.reading import GRADES
from frimble.core.training.agreement import Agreement, agreement
from frimble.exposures.models import ReadStep, TestReading
from frimble.people.models import Person

_MOST = 400
_PHOTO = "the photo reader"


@dataclass(frozen=True)
class PairOfReaders:
    """Two readers and how far they agree; the strips on which they differ most, by number from 1."""

    one: str
    other: str
    found: Agreement
    differ: str


def pairs() -> list[PairOfReaders]:
    """Every two readers who read enough of the same steps, those who agree least first."""
    readings = TestReading.objects.filter(solid_step__isnull=True).order_by("-pk")
    newest = list(readings.values_list("pk", "step_test", "photo", "read_by")[:_MOST])
    grades = _grades([pk for pk, *_ in newest])
    names = {person.pk: str(person) for person in Person.objects.all()}
    by_test: dict[int, dict[str, dict[int, int]]] = defaultdict(dict)
    for pk, step_test, photo, reader in newest:
        # The newest reading of each counts.
        by_test[step_test].setdefault(_PHOTO if photo else names[reader], grades[pk])
    together: dict[tuple[str, str], list[tuple[int, int, int]]] = defaultdict(list)
    for readers in by_test.values():
        for one, other in combinations(sorted(readers), 2):
            for strip in readers[one].keys() & readers[other].keys():
                together[one, other].append((strip, readers[one][strip], readers[other][strip]))
    found = [_pair(names, rows) for names, rows in together.items()]
    return sorted((pair for pair in found if pair), key=lambda pair: pair.found.kappa.value)


def _grades(readings: list[int]) -> dict[int, dict[int, int]]:
    """Reading → strip → place of its grade among the grades."""
    found: dict[int, dict[int, int]] = defaultdict(dict)
    steps = ReadStep.objects.filter(reading__in=readings, grade__in=GRADES).order_by()
    for reading, strip, grade in steps.values_list("reading", "strip", "grade"):
        found[reading][strip] = GRADES.index(grade)
    return found


def _pair(names: tuple[str, str], rows: list[tuple[int, int, int]]) -> PairOfReaders | None:
    result = agreement([a for _, a, _ in rows], [b for _, _, b in rows], len(GRADES))
    if result is None:
        return None
    apart: dict[int, list[int]] = defaultdict(list)
    for strip, a, b in rows:
        apart[strip].append(abs(a - b))
    worst = sorted(apart, key=lambda strip: (-sum(apart[strip]) / len(apart[strip]), strip))
    differ = [str(strip) for strip in worst[:2] if sum(apart[strip])]
    return PairOfReaders(*names, result, ", ".join(differ))
