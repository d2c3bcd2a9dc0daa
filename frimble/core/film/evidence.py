"""Which of a film process's readings counts: a hold-out test before a meter, a measurement before a bound it agrees with."""

from collections.abc import Sequence
from dataclasses import dataclass

from frimble.core.conclusions import Conclusion, Settings
from frimble.core.film.densities import BANDS, judge_film
from frimble.core.verdicts import FilmDensity

# Two routes differ by so much before anybody should ask why.
_APART = 0.3


@dataclass(frozen=True)
class Evidence:
    """One reading in one band.

    Attributes:
        at_least: the black may be denser. stale: the process was changed since.
    """

    route: str
    dmax: float
    dmin: float
    at_least: bool = False
    stale: bool = False

    @property
    def core(self) -> float:
        """The black above clear film."""
        return self.dmax - self.dmin


def standing(readings: Sequence[Evidence]) -> tuple[int, str] | None:
    """(which of these readings counts, what another says against it in words), or None without any.

    Args:
        readings: of one band, oldest first.

    Those of the process as it is set now come first; among them a hold-out test, which is the lamp's own light, then the
    newest. A bound gives way to a measurement it agrees with, and says so where it contradicts one.
    """
    if not readings:
        return None
    fresh = [k for k, r in enumerate(readings) if not r.stale] or list(range(len(readings)))
    measured = [k for k in fresh if not readings[k].at_least]
    best = max(measured, key=lambda k: (readings[k].route == "hold_out", k), default=None)
    bounds = [k for k in fresh if readings[k].at_least]
    highest = max(bounds, key=lambda k: (readings[k].core, k), default=None)
    if best is None:
        return (highest if highest is not None else fresh[-1]), ""
    if highest is not None and readings[highest].core > readings[best].core + _APART / 3:
        bound, found = readings[highest].core, readings[best].core
        words = f"It holds at least {bound:.2f}, though {found:.2f} was measured: measure again."
        return (highest, words) if highest > best else (best, words)
    others = [k for k in measured if k > best and abs(readings[k].core - readings[best].core) > _APART]
    if others:
        newest = readings[others[-1]]
        return (
            best,
            f"A later {newest.route.replace('_', '-')} reading says {newest.core:.2f}: find out why they differ.",
        )
    return best, ""


def judge_process(
    uv: Evidence | None, visual: Evidence | None, settings: Settings, over_cure: float | None
) -> Conclusion:
    """What a film process is worth, by the best there is: the lamp's own light where it was measured, the eye's only else.

    Args:
        over_cure: longest time in use, of its full cure; None where nothing is calibrated through it.
    """
    seen = uv or visual
    if seen is None:
        return Conclusion(
            None, "", FilmDensity.NOT_KNOWN, "No density was measured.", "nothing yet",
            next_best_measurement="a hold-out test, which needs no densitometer",
        )  # fmt: skip
    band = "uv" if uv else "visual"
    judged = judge_film(seen.dmax, seen.dmin, band, settings, seen.at_least, over_cure)
    if uv and visual and visual.core < judged.known:
        note = f" By the eye it is only {visual.core:.2f}, which counts for nothing where {BANDS['uv']} was measured."
        return Conclusion(
            judged.value, "", judged.verdict, judged.reason + note, judged.rests_on, judged.low, judged.high,
            judged.next_best_measurement,
        )  # fmt: skip
    return judged
