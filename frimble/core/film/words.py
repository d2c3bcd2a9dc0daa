"""What a finding means on the mesh and what to do about it, in the words of the bench."""

from collections.abc import Sequence
from dataclasses import replace

from frimble.core.film.densities import REMEDIES
from frimble.core.film.findings import Finding, Limits
from frimble.core.film.kinds import KINDS


def explain(finding: Finding, limits: Limits, dmax: float | None) -> Finding:
    """The finding with why it matters and what to do."""
    why, remedy = KINDS[finding.kind].explain(finding, limits, dmax)
    return replace(finding, why=why, remedy=remedy)


def verdict(
    findings: Sequence[Finding], dmax: float | None, at_least: bool, dmin: float, limits: Limits
) -> tuple[bool, str]:
    """Whether the film passes, and the reason. Dust on clear film fails no film by itself."""
    faults = [f for f in findings if not f.harmless]
    weak = dmax is not None and not at_least and dmax - dmin < limits.least_density
    said = []
    if weak:
        said.append(
            f"the black is {dmax - dmin:.2f} above clear film, {limits.least_density:g} is wanted: {', '.join(REMEDIES[:2])}"
        )
    for name, kind in KINDS.items():
        number = sum(f.kind == name for f in faults)
        if number:
            said.append(f"{number} {kind.plural if number > 1 else kind.label}")
    if said:
        sentence = "; ".join(said)
        return False, f"{sentence[0].upper()}{sentence[1:]}."
    density = "" if dmax is None else f"Black {'at least ' if at_least else ''}{dmax:.2f}, clear {dmin:.2f}."
    counted = [(kind, sum(f.kind == name for f in findings)) for name, kind in KINDS.items()]
    remarks = [kind.though_passed(number) for kind, number in counted if number and kind.though_passed]
    return True, " ".join(filter(None, ["Nothing found that would show in the print.", density, *remarks]))
