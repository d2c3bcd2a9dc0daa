"""Whether a mesh is worth another cycle, and whether a finished stencil is worth keeping."""

from dataclasses import dataclass

from frimble.core.conclusions import Conclusion, Settings, require_between
from frimble.core.statistics.survival import Survival
from frimble.core.tension.limits import RETENSIONABLE, poor_below
from frimble.core.tension.loss import Forecast
from frimble.core.verdicts import Keeping, MeshAdvice


@dataclass(frozen=True)
class MeshFacts:
    """What is known of one mesh: its frame's kind, closed cycles, tension N/cm, whether it has a hole, and haze in the
    image area that will not come out."""

    frame_kind: str
    cycles: int
    tension_n_per_cm: float | None = None
    damaged: bool = False
    ghost_prints: bool = False


@dataclass(frozen=True)
class Advice:
    """What to do with a mesh and every reason for it; `left` are the cycles to be expected, None where not known."""

    verdict: MeshAdvice
    reasons: tuple[str, ...]
    left: float | None


def advise(
    facts: MeshFacts, settings: Settings, forecast: Forecast | None = None, lives: Survival | None = None
) -> Advice:
    """Keep, re-tension, re-mesh, or keep for coarse work, with the reasons."""
    against, toward = [], []
    limit = poor_below(facts.frame_kind, settings)
    slack = facts.tension_n_per_cm is not None and facts.tension_n_per_cm < limit
    if facts.damaged:
        against.append("It is damaged: a hole prints.")
    if facts.ghost_prints:
        toward.append("A ghost image prints: keep images off it, or use it for coarse and single-colour work.")
    if facts.tension_n_per_cm is None:
        against.append("Its tension was never measured: measure it before fine or close-fitting work.")
    if slack:
        against.append(f"At {facts.tension_n_per_cm:.1f} N/cm it is below {limit:g}.")
    elif forecast and forecast.crossing.value is not None and forecast.crossing.value < settings["life.soon_days"]:
        toward.append(forecast.crossing.reason)
    left = lives.expected_left(facts.cycles) if lives else None
    if lives and lives.deaths >= settings["life.fewest_deaths"]:
        toward.append(_lived(facts.cycles, lives, left))
    return Advice(_verdict(facts, slack), tuple(against + toward), left)


def _verdict(facts: MeshFacts, slack: bool) -> MeshAdvice:
    if facts.damaged:
        return MeshAdvice.REMESH
    if slack:
        return MeshAdvice.RETENSION if facts.frame_kind in RETENSIONABLE else MeshAdvice.REMESH
    if facts.ghost_prints:
        return MeshAdvice.COARSE_WORK
    return MeshAdvice.NOT_KNOWN if facts.tension_n_per_cm is None else MeshAdvice.KEEP


def _lived(cycles: int, lives: Survival, left: float | None) -> str:
    share = lives.at(cycles)
    more = "none was seen older" if left is None else f"those that did had {left:.0f} more on average"
    return f"Of {lives.lives} such meshes {share * 100:.0f} % lived beyond {cycles} cycles; {more}."


def cost_per_use(mesh_price: float, stretching: float, cycles: int, reclaim: float) -> float:
    """Cost of one use of a mesh in the shop's money: its price and stretching over its cycles, and a reclaim each.

    Raises:
        InvalidInput: a negative cost, or no cycle.
    """
    for value, what in ((mesh_price, "The mesh"), (stretching, "Stretching"), (reclaim, "A reclaim")):
        require_between(value, 0, 1e6, f"{what}, in money,", "price")
    require_between(cycles, 1, 10_000, "Cycles", "cycles")
    return (mesh_price + stretching) / cycles + reclaim


@dataclass(frozen=True)
class RemakeCost:
    """What making the stencil again costs: minutes of hands, and film, emulsion and other goods in money."""

    minutes: float
    goods: float


def keep_or_reclaim(
    reorder_chance: float,
    days_until: float,
    remake: RemakeCost,
    slots_free: int,
    screens_free: int,
    settings: Settings,
) -> Conclusion:
    """Whether to keep a finished stencil for a reorder; the value is what keeping gains, money.

    Args:
        reorder_chance: 0..1 that the job comes again. days_until: days it would stand. slots_free, screens_free: free
            slots of its size and bare screens of its mesh; where either is short, what it ties up costs more.

    Raises:
        InvalidInput: a chance, days, minutes or a cost that cannot be.

    Common practice: expected cost of keeping against chance × cost of remaking.
    """
    require_between(100 * reorder_chance, 0, 100, "The chance of a reorder, in %,", "chance")
    require_between(days_until, 0, 3650, "The days until it", "days")
    require_between(remake.minutes, 0, 1440, "The minutes that remaking it takes", "minutes")
    require_between(remake.goods, 0, 100_000, "What its goods cost", "goods")
    saved = reorder_chance * (remake.minutes * settings["life.minute_costs"] + remake.goods)
    scarce = _scarcity(slots_free, settings) * _scarcity(screens_free, settings)
    tied_up = days_until * settings["life.slot_day_costs"] * scarce
    gain = saved - tied_up
    balance = (
        f"A chance of {reorder_chance * 100:.0f} % saves {saved:.2f} on average; {days_until:.0f} days in its slot cost "
        f"{tied_up:.2f} with {slots_free} slots and {screens_free} such screens free."
    )
    rests = "house costs and the chance given"
    if days_until > settings["life.longest_kept_days"]:
        reason = f"{balance} A stencil kept beyond {settings['life.longest_kept_days']:g} days is slow to remove."
        return Conclusion(gain, "money", Keeping.RECLAIM, reason, rests)
    return Conclusion(gain, "money", Keeping.KEEP if gain > 0 else Keeping.RECLAIM, balance, rests)


def _scarcity(free: int, settings: Settings) -> float:
    """How much dearer the last few are than one of many."""
    return float(max(1.0, settings["life.plenty"] / (free + 1)))
