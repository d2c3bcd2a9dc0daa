"""A film process's densities as they count, what it is worth, and its trials of settings."""

from dataclasses import dataclass

from frimble.core.conclusions import Conclusion
from frimble.core.film import densities
from frimble.core.film.costs import FilmCost, pays_after, spent
from frimble.core.film.evidence import judge_process, standing
from frimble.core.numbers import counted
from frimble.films.models import DensityReading, FilmProcess
from frimble.films.processes.uses import longest_over_cure


@dataclass(frozen=True)
class BandDensity:
    """One band of a process: the reading that counts, what another says against it, and whether a hold-out test may tell."""

    band: str
    words: str
    reading: DensityReading | None
    doubt: str

    @property
    def by_hold_out(self) -> bool:
        return self.band == "uv"


@dataclass(frozen=True)
class ProcessDensity:
    """Both bands, the verdict by the better evidence, and what two of its films over each other come to."""

    bands: tuple[BandDensity, ...]
    verdict: Conclusion
    stacked: Conclusion | None


def density_of(process: FilmProcess, settings) -> ProcessDensity:
    """What a process's densities say together."""
    read = sorted((r for r in process.readings.all() if not r.setting), key=lambda r: (r.at, r.pk))
    bands = tuple(_band(band, words, [r for r in read if r.band == band]) for band, words in densities.BANDS.items())
    counted_in = {b.band: b.reading.as_evidence() if b.reading else None for b in bands}
    verdict = judge_process(counted_in["uv"], counted_in["visual"], settings, longest_over_cure(process.pk))
    uv = counted_in["uv"]
    return ProcessDensity(bands, verdict, densities.two_stacked(uv.dmax, uv.dmin, settings) if uv else None)


def _band(band: str, words: str, readings) -> BandDensity:
    counts = standing([r.as_evidence() for r in readings])
    return BandDensity(band, words, readings[counts[0]] if counts else None, counts[1] if counts else "")


def trials_of(process: FilmProcess) -> list[DensityReading]:
    """The newest UV reading under each setting that was tried, the darkest first."""
    tried = process.readings.filter(band="uv").exclude(setting="").order_by("at", "pk")
    newest = {r.setting: r for r in tried}
    return sorted(newest.values(), key=lambda r: r.dmin - r.dmax)


@dataclass(frozen=True)
class MachineComparison:
    """Two machines for as many films as each really lasts: when the dearer pays, and both costs at the end of a life."""

    dear: FilmProcess
    cheap: FilmProcess
    pays: str
    at_films: int
    spent: tuple[float, float]


def compare_machines(one: FilmProcess, other: FilmProcess, lives: tuple[float, float]) -> MachineComparison:
    """When the dearer of two machines pays, `lives` the films that each really lasts."""
    pairs = [(p, _lasting(p, life)) for p, life in zip((one, other), lives, strict=True)]
    (dear, dear_cost), (cheap, cheap_cost) = sorted(pairs, key=lambda pair: -pair[1].machine)
    at = int(max(lives))
    totals = tuple(float(spent(cost, at)) for cost in (dear_cost, cheap_cost))
    return MachineComparison(dear, cheap, _pays(pays_after(dear_cost, cheap_cost)), at, totals)


def _lasting(process: FilmProcess, life_films: float) -> FilmCost:
    cost = process.cost()
    return FilmCost(cost.machine, life_films, cost.ink, cost.sheet, cost.spoilage)


def _pays(films: int | None) -> str:
    if films is None:
        return "never: what its films save does not pay for it, replacements counted."
    return f"after {counted(films, 'film')}, replacements counted." if films else "at once."
