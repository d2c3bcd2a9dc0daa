"""How far two readers agree on the steps that both have read."""

from collections import defaultdict
from dataclasses import dataclass
from itertools import combinations

from frimble.core.exposure.steptest.reading import GRADES
from frimble.core.training.agreement import Agreement, agreement
from frimble.exposures.models import TestReading

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
    readings = TestReading.objects.filter(solid_step__isnull=True).select_related("read_by").prefetch_related("steps")
    by_test: dict[int, dict[str, dict[int, int]]] = defaultdict(dict)
    for reading in readings.order_by("-pk")[:_MOST]:
        name = _PHOTO if reading.photo_id else str(reading.read_by)
        grades = {step.strip: GRADES.index(step.grade) for step in reading.steps.all() if step.grade in GRADES}
        # The newest reading of each counts.
        by_test[reading.step_test_id].setdefault(name, grades)
    together: dict[tuple[str, str], list[tuple[int, int, int]]] = defaultdict(list)
    for readers in by_test.values():
        for one, other in combinations(sorted(readers), 2):
            for strip in readers[one].keys() & readers[other].keys():
                together[one, other].append((strip, readers[one][strip], readers[other][strip]))
    found = [_pair(names, rows) for names, rows in together.items()]
    return sorted((pair for pair in found if pair), key=lambda pair: pair.found.kappa.value)


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
