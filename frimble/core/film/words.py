"""What a finding means on the mesh and what to do about it, in the words of the bench."""

from collections.abc import Sequence
from dataclasses import replace

from frimble.core.film.densities import REMEDIES
from frimble.core.film.findings import KINDS, Finding, Limits


def explain(finding: Finding, limits: Limits, dmax: float | None) -> Finding:
    """The finding with why it matters and what to do."""
    why, remedy = _SAYINGS[finding.kind](finding, limits, dmax)
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
    for kind in KINDS:
        number = sum(f.kind == kind for f in faults)
        if number:
            said.append(f"{number} {KINDS[kind][0]}{'s' if number > 1 and kind not in ('banding', 'type') else ''}")
    if said:
        sentence = "; ".join(said)
        return False, f"{sentence[0].upper()}{sentence[1:]}."
    dust = sum(f.kind == "speck" for f in findings)
    small = sum(f.kind == "type_size" for f in findings)
    density = "" if dmax is None else f" Black {'at least ' if at_least else ''}{dmax:.2f}, clear {dmin:.2f}."
    return True, "Nothing found that would show in the print." + density + (
        f" {dust} speck{'s' if dust > 1 else ''} on clear film: wipe, or block in the stencil." if dust else ""
    ) + (f" {small} run{'s' if small > 1 else ''} of type below the trade's floor: look at them." if small else "")


def _on(limits: Limits) -> str:
    return f" on {limits.mesh}" if limits.mesh else ""


def _pinhole(f, limits, dmax):
    return (
        f"Light passes a hole of {f.value:.2f} mm: it hardens there and the print has a spot without ink{_on(limits)}.",
        "Opaque pen on the hole, ink side up, and let it dry.",
    )


def _speck(f, limits, dmax):
    return (
        f"A grain of {f.value:.2f} mm stops the light: the stencil opens there and prints a dot{_on(limits)}.",
        "Wipe the film; if it stays, scrape it off or block the hole in the stencil.",
    )


def _scratch(f, limits, dmax):
    return (
        f"A clear line {f.value:.2f} mm wide through the black: it hardens into a line without ink.",
        "Opaque pen along the scratch; across fine detail reprint.",
    )


def _weak(f, limits, dmax):
    more = "" if dmax is None else f" where the film's black is {dmax:.2f}"
    return (
        f"Density {f.value:.2f}{more}: light leaks {10 ** max(0, (dmax or f.value) - f.value):.0f} times as much here and "
        "the stencil scums before it is cured.",
        f"Reprint at the densest setting, or {REMEDIES[1]}; touch up bold areas only, never fine detail.",
    )


def _banding(f, limits, dmax):
    return (
        f"Bands {f.value:.2f} weaker than the black between them, as a blocked nozzle leaves them.",
        "Clean the head, print the nozzle test, reprint. Toner: turn the drum out and look at it.",
    )


def _thin(f, limits, dmax):
    return (
        f"{f.value:.2f} mm thin; {limits.line_mm:.2f} mm is the least that holds{_on(limits)}.",
        "Draw it wider in the artwork, or choose a finer mesh.",
    )


def _dot(f, limits, dmax):
    return (
        f"The smallest dots measure {f.value:.3f} mm; {limits.dot_mm:.3f} mm holds"
        f"{_on(limits) or ' on the finest usual mesh'}.",
        "Coarser ruling, a finer mesh, or cut the highlights off at the dot that holds.",
    )


def _type(f, limits, dmax):
    return (
        f"Strokes of {f.value:.2f} mm; {limits.line_mm:.2f} mm is the least that holds{_on(limits)}.",
        "Set the words larger or bolder, or choose a finer mesh.",
    )


def _type_size(f, limits, dmax):
    return (
        f"Set in about {f.value:.2g} pt; {limits.sans_pt:g} pt without serifs and {limits.serif_pt:g} pt with them are the "
        "least that the trade prints.",
        "Set the words larger, or without serifs.",
    )


_SAYINGS = {
    "pinhole": _pinhole,
    "speck": _speck,
    "scratch": _scratch,
    "weak_area": _weak,
    "banding": _banding,
    "thin_line": _thin,
    "small_dot": _dot,
    "type": _type,
    "type_size": _type_size,
}
