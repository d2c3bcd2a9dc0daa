"""What a finding means on the mesh and what to do about it, in the words of the bench."""

from collections.abc import Sequence
from dataclasses import replace

from frimble.core.film.densities import REMEDIES
from frimble.core.film.findings import Finding, Limits
from frimble.core.film.kinds import KINDS
from frimble.core.verdicts import FilmVerdict


def explain(finding: Finding, limits: Limits, dmax: float | None) -> Finding:
    """The finding with why it matters and what to do."""
    why, remedy = KINDS[finding.kind].explain(finding, limits, dmax)
    return replace(finding, why=why, remedy=remedy)


def verdict(
    findings: Sequence[Finding], dmax: float | None, at_least: bool, dmin: float, limits: Limits, drawn: bool = False
) -> tuple[FilmVerdict, str]:
    """Whether the film passes, and the reason. Dust on clear film fails no film by itself.

    Args:
        dmax, dmin: of black and clear film; `at_least` where the scan cannot tell the black from a denser one.
        drawn: the file is the artwork itself, which has no density.
    """
    faults = [f for f in findings if not f.harmless]
    said = []
    if dmax is not None and not at_least and dmax - dmin < limits.least_density:
        said.append(
            f"the black is {dmax - dmin:.2f} above clear film, {limits.least_density:g} is wanted: {', '.join(REMEDIES[:2])}"
        )
    for name, kind in KINDS.items():
        number = sum(f.kind == name for f in faults)
        if number:
            said.append(f"{number} {kind.plural if number > 1 else kind.label}")
    if said:
        sentence = "; ".join(said)
        return FilmVerdict.FAULTS, f"{sentence[0].upper()}{sentence[1:]}."
    unknown = "" if drawn else _density_not_known(dmax, at_least, dmin, limits)
    if unknown:
        return FilmVerdict.NOT_KNOWN, unknown
    density = "" if dmax is None else f"Black {'at least ' if at_least else ''}{dmax:.2f}, clear {dmin:.2f}."
    counted = [(kind, sum(f.kind == name for f in findings)) for name, kind in KINDS.items()]
    remarks = [kind.though_passed(number) for kind, number in counted if number and kind.though_passed]
    return FilmVerdict.PASSED, " ".join(
        filter(None, ["Nothing found that would show in the print.", density, *remarks])
    )


def _density_not_known(dmax: float | None, at_least: bool, dmin: float, limits: Limits) -> str:
    """Why the scan cannot tell whether the black is dense enough; empty when it can."""
    if dmax is None:
        return (
            "Nothing found that would show in the print, but whether the black is dense enough is not known: no solid is "
            "large enough to take it from. Measure it with a densitometer, or run a hold-out test."
        )
    if at_least and dmax - dmin < limits.least_density:
        return (
            f"Nothing found that would show in the print, but whether the black reaches {limits.least_density:g} above "
            f"clear film is not known: this scan tells densities up to {dmax:.2f}. A densitometer, a scan of 16 bits, a "
            "wedge that reaches further or a hold-out test would tell."
        )
    return ""
