"""What was lost: failed films, coats, stencils, prints and meshes, what each took, and which causes weigh most."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from frimble.core.conclusions import Settings
from frimble.core.statistics.interval import Interval
from frimble.core.statistics.proportion import proportion


class LossStage(StrEnum):
    """Where it was lost."""

    FILM = "film"
    COAT = "coat"
    STENCIL = "stencil"
    PRINT = "on press"
    MESH = "mesh"


# Work that is done for nothing when something is lost at a stage, and what undoing it takes.
_STEPS: Mapping[LossStage, Sequence[str]] = {
    LossStage.FILM: ("life.film_min",),
    LossStage.COAT: ("life.prepare_min", "life.reclaim_min"),
    LossStage.STENCIL: ("life.prepare_min", "life.expose_min", "life.wash_min", "life.reclaim_min"),
    LossStage.PRINT: ("life.prepare_min", "life.expose_min", "life.wash_min", "life.reclaim_min"),
    LossStage.MESH: ("life.stretch_min",),
}


_STENCILS = (LossStage.COAT, LossStage.STENCIL, LossStage.PRINT)


@dataclass(frozen=True)
class Loss:
    """One thing lost. `month` such as "2026-11"; lamp, person, batch and screen empty where none had to do with it.

    Attributes:
        emulsion_ml: laid for nothing. money: that of its material, with the shop's prices; 0 where they are not known.
    """

    stage: LossStage
    cause: str
    month: str
    lamp: str = ""
    person: str = ""
    batch: str = ""
    screen: str = ""
    emulsion_ml: float = 0.0
    money: float = 0.0


@dataclass(frozen=True)
class Bar:
    """Losses of one kind: how many, minutes of hands, emulsion, all in money, and the running share of all money."""

    label: str
    number: int
    minutes: float
    emulsion_ml: float
    money: float
    running: float


@dataclass(frozen=True)
class Losses:
    """All losses by one key, the dearest first; the share lost of what was begun, and what less would save.

    Attributes:
        one_percent_saves: money a year where one stencil in a hundred were lost less, at what those that are lost cost.
    """

    bars: Sequence[Bar]
    number: int
    minutes: float
    emulsion_ml: float
    money: float
    share: Interval | None
    one_percent_saves: float | None


KEYS: Mapping[str, tuple[str, Callable[[Loss], str]]] = {
    "cause": ("Cause", lambda loss: loss.cause),
    "stage": ("Stage", lambda loss: str(loss.stage)),
    "month": ("Month", lambda loss: loss.month),
    "lamp": ("Lamp", lambda loss: loss.lamp or "no light given"),
    "person": ("Person", lambda loss: loss.person or "nobody named"),
    "batch": ("Batch", lambda loss: loss.batch or "no coat"),
}


def minutes_of(stage: LossStage, settings: Settings) -> float:
    """Minutes of hands that a loss at this stage cost."""
    return float(sum(settings[key] for key in _STEPS[stage]))


def pareto(losses: Iterable[Loss], key: str, begun: int, days: float, settings: Settings) -> Losses:
    """Losses by a key of `KEYS`, the dearest first.

    Args:
        begun: stencils begun in the same time; 0 where none were. days: the time looked at, > 0.

    Source: J. M. Juran's use of Pareto's law: order by cost, and run up the share.
    """
    group = KEYS[key][1]
    kept = list(losses)
    minute = float(settings["life.minute_costs"])
    rows: dict[str, list[Loss]] = {}
    for loss in kept:
        rows.setdefault(group(loss), []).append(loss)
    costs = {name: sum(minutes_of(x.stage, settings) * minute + x.money for x in own) for name, own in rows.items()}
    total = sum(costs.values())
    bars, running = [], 0.0
    for name in sorted(costs, key=lambda n: (-costs[n], n)):
        running += costs[name]
        own = rows[name]
        bars.append(
            Bar(
                name, len(own), sum(minutes_of(x.stage, settings) for x in own), sum(x.emulsion_ml for x in own),
                costs[name], running / total if total else 0.0,
            )
        )  # fmt: skip
    stencils = [x for x in kept if x.stage in _STENCILS]
    usual = minutes_of(LossStage.STENCIL, settings) * minute
    each = (
        sum(minutes_of(x.stage, settings) * minute + x.money for x in stencils) / len(stencils) if stencils else usual
    )
    saves = 0.01 * begun * (365 / days) * each if begun else None
    return Losses(
        bars, len(kept), sum(b.minutes for b in bars), sum(b.emulsion_ml for b in bars), total,
        proportion(min(len(stencils), begun), begun) if begun else None, saves,
    )  # fmt: skip
