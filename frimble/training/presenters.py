"""What the pages of training show."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from frimble.core.numbers import counted
from frimble.core.training.drill import LEVELS, Asks, Drill, Marked, PhotoMark
from frimble.core.training.skills import SKILLS
from frimble.training.queries import Standing

_LEVELS = ("beginner", "learner", "steady", "sure", "expert")


@dataclass(frozen=True)
class SkillRow:
    """A skill in words: the level, from how many drills, when it comes again, who signed it."""

    skill: str
    title: str
    level: float
    low: float
    high: float
    words: str
    drilled: bool
    due: bool
    due_words: str
    signed: str
    scores: tuple[float, ...]


def skill_row(found: Standing, now: datetime) -> SkillRow:
    a = found.ability
    drills = counted(a.drills, "drill", "drills")
    words = f"{_LEVELS[a.next_level - 1]}, from {drills}" if a.drills else "never drilled"
    return SkillRow(
        found.skill,
        found.title,
        *(min(max(v, LEVELS[0]), LEVELS[-1]) for v in (a.level, a.low, a.high)),
        words,
        bool(a.drills),
        found.is_due(now),
        _due_words(found.due_at, now),
        found.signed_by,
        found.scores,
    )


def _due_words(due: datetime | None, now: datetime) -> str:
    if due is None:
        return ""
    days = (due - now).days
    return "due now" if due <= now else "again today" if days < 1 else f"again in {counted(days, 'day', 'days')}"


@dataclass(frozen=True)
class AskedPart:
    """A question with its fields; `kind` says how it is shown."""

    label: str
    is_order: bool
    is_many: bool
    is_taps: bool
    fields: list


def asked_parts(drill: Drill, form) -> list[AskedPart]:
    parts = []
    for question in drill.questions:
        names = [name for name in form.fields if name == question.name or name.startswith(f"{question.name}_")]
        parts.append(
            AskedPart(
                question.label,
                question.asks is Asks.ORDER,
                question.asks is Asks.MANY,
                question.asks is Asks.TAPS,
                [form[name] for name in names],
            )
        )
    return parts


@dataclass(frozen=True)
class PhotoPart:
    """A drill's photo: its size, px, what it shows, and what is seen where once it is answered."""

    width: int
    height: int
    words: str
    marks: Sequence[PhotoMark]
    times: int


# How much larger the loupe shows it.
_LOUPE_TIMES = 3


def photo_part(drill: Drill, answered: bool) -> PhotoPart | None:
    """The photo of a drill that has one."""
    if drill.photo is None:
        return None
    height, width = drill.photo.shape
    return PhotoPart(width, height, drill.photo_words, drill.marks if answered else (), _LOUPE_TIMES)


def headline(marked: Marked) -> str:
    if marked.score > 0.99:
        return "All right"
    right = sum(part.score > 0.99 for part in marked.parts)
    words = f"{right} of {counted(len(marked.parts), 'answer')} right"
    return f"{words}, near with others" if marked.score * len(marked.parts) > right + 0.01 else words


def title_of(skill: str) -> str:
    return SKILLS[skill].title
