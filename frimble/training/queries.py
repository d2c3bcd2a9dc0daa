"""Where somebody stands in each skill, and which drill comes next."""

from collections import defaultdict
from dataclasses import dataclass
from datetime import datetime

from django.db.models import Window
from django.db.models.functions import RowNumber

from frimble.core.training.rating import Ability, ability
from frimble.core.training.skills import SKILLS
from frimble.training.models import DrillRun, SkillMemory, SkillSignature

# Ability is told from the newest drills: people learn.
_NEWEST = 20


@dataclass(frozen=True)
class Standing:
    """One skill of one person: ability, scores of the newest drills, when it is due, who signed it."""

    skill: str
    title: str
    ability: Ability
    scores: tuple[float, ...]
    due_at: datetime | None
    signed_by: str

    def is_due(self, now: datetime) -> bool:
        return self.due_at is not None and self.due_at <= now


def standings(person) -> list[Standing]:
    """Every skill of a person, as SKILLS names them."""
    return standings_of([person])[person.pk]


def standings_of(people) -> dict[int, list[Standing]]:
    """Every skill of each of these people, by their number."""
    numbers = [person.pk for person in people]
    done: dict[tuple[int, str], list[tuple[int, float]]] = defaultdict(list)
    runs = DrillRun.objects.filter(person__in=numbers, score__isnull=False)
    turn = Window(RowNumber(), partition_by=["person", "skill"], order_by="-pk")
    newest = runs.annotate(turn=turn).filter(turn__lte=_NEWEST).order_by("pk")
    for person, skill, level, score in newest.values_list("person", "skill", "level", "score"):
        done[person, skill].append((level, score))
    memories = SkillMemory.objects.filter(person__in=numbers).values_list("person", "skill", "due_at")
    due = {(person, skill): at for person, skill, at in memories}
    signed = signatures(numbers)
    return {
        number: [
            Standing(
                name,
                skill.title,
                ability(done[number, name]),
                tuple(score for _, score in done[number, name]),
                due.get((number, name)),
                signed.get((number, name), ""),
            )
            for name, skill in SKILLS.items()
        ]
        for number in numbers
    }


def signatures(people) -> dict[tuple[int, str], str]:
    """Who signed each skill of these people, by person and skill; what was taken back is not there."""
    rows = SkillSignature.objects.filter(person__in=people).select_related("by").order_by("at", "pk")
    newest = {(row.person_id, row.skill): row for row in rows}
    return {key: str(row.by) for key, row in newest.items() if row.signed}


def next_skill(found: list[Standing], now: datetime) -> Standing:
    """What is due first; else what was never drilled; else what is weakest."""
    due = sorted((s for s in found if s.is_due(now)), key=lambda s: s.due_at or now)
    if due:
        return due[0]
    new = [s for s in found if not s.ability.drills]
    return new[0] if new else min(found, key=lambda s: s.ability.level)


def open_run(person) -> DrillRun | None:
    """A drill that was begun and left."""
    return DrillRun.objects.filter(person=person, score__isnull=True).last()
