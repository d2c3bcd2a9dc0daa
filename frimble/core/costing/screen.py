"""What a screen costs, what a job costs a print, and what another mesh, a kept stencil or another film would change.

Every price is the shop's own. What has no price is left out of the sum and said.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from frimble.core.conclusions import Settings, require_between
from frimble.core.statistics.interval import Interval

# What the hands do for one screen, by the settings that say how long.
_HANDS = ("prepare", "expose", "wash", "reclaim")
_HANDS_KEPT = ("wash",)
_CM2_UM_TO_L = 1e-7


@dataclass(frozen=True)
class ScreenFacts:
    """What one screen of a job takes.

    Attributes:
        name: of its colour. kept: its stencil stands already. film: money, None where its way of making has no price.
        emulsion_ml: that its coat takes, as it is really used; emulsion_words: what that rests on.
        emulsion_l: price of a litre. mesh_m2: cloth on the frame. deposit_um: wet ink that a stroke leaves.
        image_cm2: what is printed, None where no film says.
        lost: share of stencils that are made twice.
    """

    name: str
    kept: bool
    film: float | None
    emulsion_ml: float
    emulsion_l: float | None
    mesh_m2: float
    deposit_um: float
    image_cm2: float | None
    lost: Interval
    emulsion_words: str = "as predicted"


@dataclass(frozen=True)
class CostLine:
    """One part of the cost: `money` is None where its price is not known."""

    label: str
    money: float | None
    words: str


@dataclass(frozen=True)
class ScreenCost:
    """One screen: its parts, and the ink of its prints apart from them."""

    name: str
    lines: tuple[CostLine, ...]
    ink: CostLine

    @property
    def money(self) -> float:
        """Of what has a price, ink left out."""
        return sum(line.money for line in self.lines if line.money is not None)

    @property
    def unknown(self) -> tuple[str, ...]:
        return tuple(line.label for line in (*self.lines, self.ink) if line.money is None)


@dataclass(frozen=True)
class JobCost:
    """A job: its screens, the whole, and a print; `low` and `high` by the share of stencils that are lost."""

    screens: tuple[ScreenCost, ...]
    prints: int
    money: float
    low: float
    high: float
    unknown: tuple[str, ...]

    @property
    def a_print(self) -> float:
        return self.money / self.prints


def screen_cost(facts: ScreenFacts, prints: int, settings: Settings) -> ScreenCost:
    """The parts of one screen's cost.

    Raises:
        InvalidInput: fewer than one print, or more than any run.
    """
    require_between(prints, 1, settings["press.most_impressions"], "The prints", "prints")
    minute = settings["life.minute_costs"]
    minutes = sum(settings[f"life.{part}_min"] for part in (_HANDS_KEPT if facts.kept else _HANDS))
    hands = CostLine("hands", minutes * minute, f"{minutes:g} min")
    made = (
        (hands,)
        if facts.kept
        else (_film(facts), _emulsion(facts), hands, _mesh(facts, settings), _chemicals(settings))
    )
    return ScreenCost(facts.name, (*made, _lost(facts, made)), _ink(facts, prints, settings))


def _film(facts: ScreenFacts) -> CostLine:
    return CostLine("film", facts.film, "with its share of the machine and of spoilt ones")


def _emulsion(facts: ScreenFacts) -> CostLine:
    price = None if facts.emulsion_l is None else facts.emulsion_ml / 1000 * facts.emulsion_l
    return CostLine("emulsion", price, f"{facts.emulsion_ml:.0f} ml, {facts.emulsion_words}")


def _mesh(facts: ScreenFacts, settings: Settings) -> CostLine:
    cloth, cycles = settings["cost.mesh_m2"], settings["cost.mesh_cycles"]
    stretching = settings["life.stretch_min"] * settings["life.minute_costs"]
    money = (facts.mesh_m2 * cloth + stretching) / cycles if cloth else None
    return CostLine("wear of the mesh", money, f"{facts.mesh_m2:.2f} m² and stretching over {cycles:g} cycles")


def _chemicals(settings: Settings) -> CostLine:
    return CostLine("reclaim chemicals", settings["cost.reclaim_goods"] or None, "removers of one reclaim")


def _lost(facts: ScreenFacts, made: Sequence[CostLine]) -> CostLine:
    """Stencils made in vain, shared by those that print: one in p lost makes p / (1 - p) more."""
    again = sum(line.money for line in made if line.money is not None)
    share = 0.0 if facts.kept else facts.lost.value
    return CostLine("lost screens' share", again * share / (1 - share), f"{share:.1%} of stencils are made twice")


def _ink(facts: ScreenFacts, prints: int, settings: Settings) -> CostLine:
    price = settings["cost.ink_l"]
    if facts.image_cm2 is None:
        return CostLine("ink", None, "no film says how large the image is")
    litres = facts.deposit_um * facts.image_cm2 * settings["cost.ink_share"] * prints * _CM2_UM_TO_L
    return CostLine("ink", litres * price if price else None, f"{litres:.2f} l, {facts.deposit_um:.0f} µm a stroke")


def job_cost(screens: Sequence[ScreenFacts], prints: int, settings: Settings) -> JobCost:
    """All screens of a job, and its prints.

    Raises:
        InvalidInput: no screen, or a number of prints that cannot be.
    """
    require_between(len(screens), 1, 40, "The job's screens", "prints")

    def whole(share: str) -> float:
        costs = [screen_cost(_with_lost(facts, share), prints, settings) for facts in screens]
        return sum(c.money + (c.ink.money or 0) for c in costs)

    costs = tuple(screen_cost(facts, prints, settings) for facts in screens)
    unknown = tuple(dict.fromkeys(label for c in costs for label in c.unknown))
    return JobCost(costs, prints, whole("value"), whole("low"), whole("high"), unknown)


def _with_lost(facts: ScreenFacts, end: str) -> ScreenFacts:
    share = getattr(facts.lost, end)
    return replace(facts, lost=Interval(share, share, share))


@dataclass(frozen=True)
class Change:
    """What the same job would cost otherwise."""

    words: str
    more: float


def changes(
    screens: Sequence[ScreenFacts], others: Sequence[tuple[str, int, ScreenFacts]], prints: int, settings: Settings
) -> list[Change]:
    """What each change adds to the job's cost, the greatest saving first.

    Args:
        others: words, the number of the screen that is changed, and its facts then.
    """
    now = job_cost(screens, prints, settings).money
    found = []
    for words, number, facts in others:
        changed = [facts if k == number else s for k, s in enumerate(screens)]
        found.append(Change(words, job_cost(changed, prints, settings).money - now))
    return sorted(found, key=lambda c: c.more)
