"""Coated screens against what the coming jobs want: which mesh and coat runs short."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from frimble.core.numbers import counted


@dataclass(frozen=True)
class ScreenDemand:
    """Screens a job wants of one mesh and coat; `days` until it goes on press, less than 0 where that is past."""

    job: str
    days: float
    mesh: str
    formula: str
    number: int


@dataclass(frozen=True)
class Balance:
    """One mesh and coat: wanted, coated and usable, bare ones that could be coated, and what to do."""

    mesh: str
    formula: str
    wanted: int
    coated: int
    bare: int
    first_job: str
    first_days: float

    @property
    def short(self) -> int:
        return max(0, self.wanted - self.coated)

    @property
    def when(self) -> str:
        """When the first job that wants them goes on press."""
        if self.first_days < 0:
            return f"{counted(round(-self.first_days), 'day')} late"
        return f"in {counted(round(self.first_days), 'day')}" if self.first_days else "today"

    @property
    def words(self) -> str:
        if not self.short:
            return "enough coated"
        if self.bare >= self.short:
            return f"coat {self.short} of the {self.bare} bare ones"
        return (
            f"{counted(self.short - self.bare, 'screen')} too few even with every bare one coated: reclaim or stretch"
        )


def balance(
    wants: Sequence[ScreenDemand], coated: Mapping[tuple[str, str], int], bare: Mapping[str, int]
) -> list[Balance]:
    """What each mesh and coat is short of, the most pressing first.

    Args:
        coated: usable coated screens by (mesh, formula). bare: bare screens by mesh; each is counted once, for the coat
            that is wanted first.
    """
    by_kind: dict[tuple[str, str], list[ScreenDemand]] = {}
    for want in sorted(wants, key=lambda w: w.days):
        by_kind.setdefault((want.mesh, want.formula), []).append(want)
    left = dict(bare)
    balances = []
    for (mesh, formula), asked in by_kind.items():
        wanted, have = sum(w.number for w in asked), coated.get((mesh, formula), 0)
        free = left.get(mesh, 0)
        balances.append(Balance(mesh, formula, wanted, have, free, asked[0].job, asked[0].days))
        left[mesh] = max(0, free - max(0, wanted - have))
    return sorted(balances, key=lambda b: (not b.short, b.first_days, b.mesh))
