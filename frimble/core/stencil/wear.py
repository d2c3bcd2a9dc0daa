"""How stencils stand their runs, by the light they had and whether they were hardened."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from statistics import median

from frimble.core.statistics.interval import Interval
from frimble.core.statistics.proportion import proportion

# Light within this of the calibrated time is as calibrated.
_ALIKE = 0.1
# Fewer stencils of a kind tell nothing.
_FEWEST = 3


@dataclass(frozen=True)
class PrintedStencil:
    """A stencil that printed: whether it was hardened, light ÷ calibrated time, whether it broke, impressions it made."""

    hardened: bool
    dose: float | None
    broke: bool
    impressions: int


@dataclass(frozen=True)
class WearRow:
    """Stencils of a kind: how many printed and how many of them broke, with the 90 % interval, and their usual run."""

    label: str
    number: int
    broke: int
    share: Interval
    usual_run: float


_KINDS: Sequence[tuple[str, Callable[[PrintedStencil], bool]]] = (
    ("hardened", lambda s: s.hardened),
    ("not hardened", lambda s: not s.hardened),
    ("less light than calibrated", lambda s: s.dose is not None and s.dose < 1 - _ALIKE),
    ("light as calibrated", lambda s: s.dose is not None and abs(s.dose - 1) <= _ALIKE),
    ("more light than calibrated", lambda s: s.dose is not None and s.dose > 1 + _ALIKE),
)


def wear(stencils: Iterable[PrintedStencil]) -> list[WearRow]:
    """Share that broke on press by kind; kinds of too few stencils are left out."""
    printed = list(stencils)
    rows = []
    for label, belongs in _KINDS:
        own = [s for s in printed if belongs(s)]
        if len(own) >= _FEWEST:
            broke = sum(s.broke for s in own)
            run = float(median(s.impressions for s in own))
            rows.append(WearRow(label, len(own), broke, proportion(broke, len(own)), run))
    return rows
