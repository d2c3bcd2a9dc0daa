"""Drills are begun and answered, skills signed."""

import secrets
from typing import Any

from django.db import transaction
from django.utils import timezone

from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.core.training.drill import Marked, mark
from frimble.core.training.schedule import Repetition, drilled
from frimble.core.training.skills import SKILLS
from frimble.training import queries
from frimble.training.made import drill_of
from frimble.training.models import DrillRun, SkillMemory, SkillSignature

_SEEDS = 1 << 30


def begin(person, skill: str) -> DrillRun:
    """A drill at the level that tells most; one of this skill that was left half way goes on.

    Raises:
        InvalidInput: an unknown skill.
    """
    if skill not in SKILLS:
        raise InvalidInput(f"There is no skill {skill}.", "skill")
    left = DrillRun.objects.filter(person=person, skill=skill, score__isnull=True).last()
    if left:
        return left
    standing = next(s for s in queries.standings(person) if s.skill == skill)
    return DrillRun.objects.create(
        person=person,
        skill=skill,
        level=standing.ability.next_level,
        seed=secrets.randbelow(_SEEDS),
        begun_at=timezone.now(),
    )


def answer(run: DrillRun, given: dict[str, Any]) -> Marked:
    """Mark an answer, and set when the skill comes again.

    Raises:
        InvalidInput: a question is not answered. RuleViolation: it was answered before.
    """
    marked = mark(drill_of(run), given)
    now = timezone.now()
    with transaction.atomic():
        run = DrillRun.objects.select_for_update().get(pk=run.pk)
        if run.score is not None:
            raise RuleViolation("It is answered already.")
        run.answer, run.score, run.answered_at = given, marked.score, now
        run.save()
        kept = SkillMemory.objects.select_for_update().filter(person=run.person_id, skill=run.skill).first()
        after = drilled(Repetition(kept.due_at, kept.card) if kept else None, marked.score, now)
        SkillMemory.objects.update_or_create(
            person_id=run.person_id, skill=run.skill, defaults={"due_at": after.due, "card": after.card}
        )
    return marked


def sign(person, skill: str, lead, *, signed: bool, note: str = "") -> SkillSignature:
    """A lead says that somebody has a skill, or takes that back.

    Raises:
        InvalidInput: an unknown skill. RuleViolation: their own.
    """
    if skill not in SKILLS:
        raise InvalidInput(f"There is no skill {skill}.", "skill")
    if person == lead:
        raise RuleViolation("Nobody signs their own skills.")
    return SkillSignature.objects.create(
        person=person, skill=skill, signed=signed, note=note, at=timezone.now(), by=lead
    )
