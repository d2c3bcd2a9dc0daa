"""Emulsion: how much of a mixed batch's life is used."""

from collections.abc import Sequence
from dataclasses import dataclass

from frimble.core.conclusions import Conclusion, InvalidInput, Settings, require_between
from frimble.core.verdicts import BatchAge, Stock

INKS = {"water": "water-based", "solvent": "solvent or plastisol"}
# Inks that an emulsion stands, by the register's word for it.
STANDS = {"water": ("water",), "solvent": ("solvent",), "both": ("water", "solvent")}
KINDS = {"diazo": "diazo", "dual": "dual-cure", "photopolymer": "photopolymer"}


def life_days(kind: str, kept_c: float, settings: Settings) -> float:
    """Life of a mixed batch kept at `kept_c`, days; it shrinks by Q10 for each 10 °C above room temperature."""
    if kind not in KINDS:
        raise InvalidInput(f"“{kind}” is not an emulsion kind: {', '.join(KINDS)}.", "kind")
    coldest, hottest = settings["emulsion.coldest_c"], settings["emulsion.hottest_c"]
    require_between(kept_c, coldest, hottest, "The temperature it was kept at, in °C,", "kept_c")
    shift = (settings["emulsion.room_c"] - kept_c) / 10
    return float(settings[f"emulsion.life_{kind}_days"] * settings["emulsion.q10"] ** shift)


@dataclass(frozen=True)
class StoragePeriod:
    """A stretch of a batch's life: days, and the temperature it was kept at, °C."""

    days: float
    kept_c: float


def life_used(kind: str, spans: Sequence[StoragePeriod], settings: Settings) -> float:
    """Share of a batch's life that its days, each at its own temperature, have used.

    Raises:
        InvalidInput: an unknown kind or an impossible temperature.
    """
    return sum(span.days / life_days(kind, span.kept_c, settings) for span in spans)


def batch_life(kind: str, spans: Sequence[StoragePeriod], settings: Settings) -> Conclusion:
    """Share of a batch's life that is used, with a verdict: fresh, ageing or past its life.

    Args:
        spans: since it was mixed (opened for photopolymer), oldest first; the last one is where it stands now. For a
            topped-up blend, of its oldest part.

    Raises:
        InvalidInput: an unknown kind, a batch mixed in the future, or an impossible temperature.
    """
    age = sum(span.days for span in spans)
    if age < 0 or any(span.days < 0 for span in spans):
        raise InvalidInput("This batch is dated in the future: check when it was mixed.", "mixed_at")
    used, now_c = life_used(kind, spans, settings), spans[-1].kept_c
    left = (1 - used) * life_days(kind, now_c, settings)
    warm = {f"{span.kept_c:g}" for span in spans if span.days > 0} or {f"{now_c:g}"}
    kept = f"kept at {now_c:g} °C" if len(warm) == 1 else f"kept at {' and '.join(sorted(warm, key=float))} °C"
    state = f"{_days(age)} old, {kept}: {used * 100:.0f} % of its life"
    if used > 1:
        verdict = BatchAge.PAST
        reason = f"{state}, over by {_days(-left)}. It may not harden or not wash out. Mix a new batch and test again."
    elif used >= settings["emulsion.ageing_share"]:
        verdict = BatchAge.AGEING
        reason = f"{state}, {_days(left)} left. Its exposure has moved: test again before fine work."
    else:
        verdict, reason = BatchAge.FRESH, f"{state}, {_days(left)} left."
    return Conclusion(
        used,
        "of life",
        verdict,
        reason,
        "house default for the kind",
        next_best_measurement="" if verdict == BatchAge.FRESH else "a step test with this batch",
    )


def batch_age(kind: str, age_days: float, kept_c: float, settings: Settings) -> Conclusion:
    """As `batch_life`, for a batch that stood in one place all its days."""
    return batch_life(kind, [StoragePeriod(age_days, kept_c)], settings)


def warm_up_min(since_out_min: float, from_c: float, settings: Settings) -> float:
    """Minutes that a batch taken from the cold still has to stand before it coats well; 0 when it may be used.

    Common practice: some 15 minutes; cold emulsion is thick and sweats.
    """
    if from_c >= settings["emulsion.cold_below_c"]:
        return 0.0
    return float(max(0.0, settings["emulsion.warm_up_min"] - since_out_min))


def stock_lasts(litres: float, litres_a_week: float, planned_l: float, life_left_days: float) -> Conclusion:
    """How long what is left in the batches lasts, by use and by its life, whichever ends first.

    Args:
        litres: left. litres_a_week: used of late. planned_l: wanted by coats already planned, taken first.
        life_left_days: of the batch that ends last.

    Raises:
        InvalidInput: litres below nothing.
    """
    require_between(litres, 0, 10_000, "Litres left", "litres")
    after = litres - planned_l
    if after < 0:
        return Conclusion(
            0.0,
            "days",
            Stock.SHORT,
            f"{litres:.1f} l left, {planned_l:.1f} l planned: {-after:.1f} l short. Mix or order.",
            "records of what was poured and returned",
        )
    by_use = after / litres_a_week * 7 if litres_a_week > 0 else float("inf")
    days = min(by_use, max(0.0, life_left_days))
    used = f"{litres_a_week:.2f} l a week" if litres_a_week else "none used of late"
    planned = f"{planned_l:.1f} l planned, " if planned_l else ""
    ends = "its life ends first" if life_left_days < by_use else "then it is used up"
    verdict = Stock.ENOUGH if days > 14 else Stock.SOON_OUT
    return Conclusion(
        days,
        "days",
        verdict,
        f"{litres:.1f} l left, {planned}{used}: about {_days(days)}, {ends}.",
        "records of what was poured and returned",
    )


def _days(days: float) -> str:
    whole = max(0, round(days))
    return "1 day" if whole == 1 else f"{whole} days"


def unsuited(
    resists: str, cloth: str, finest_um: float | None, *, ink: str | None, dyed: bool, detail_um: float | None
) -> list[str]:
    """What speaks against an emulsion for a job; empty when nothing does.

    Args:
        resists: "water", "solvent" or "both". cloth: "white", "dyed" or "any". finest_um: finest detail it is good for.
        ink: "water" or "solvent", None where it is not known. dyed: the mesh is yellow or orange.
        detail_um: finest detail wanted.
    """
    against = []
    if ink and resists not in (ink, "both"):
        against.append(f"does not stand {INKS[ink]} ink")
    if cloth not in ("dyed" if dyed else "white", "any"):
        against.append(f"is meant for {cloth} mesh")
    if finest_um and detail_um and detail_um < finest_um:
        against.append(f"holds {finest_um:g} µm, {detail_um:g} µm is wanted")
    return against
