"""The kinds of findings: one row each, with its words, and why it matters and what to do."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING

from frimble.core.film.densities import REMEDIES

if TYPE_CHECKING:
    from frimble.core.film.findings import Finding, Limits


def _on(limits: Limits) -> str:
    return f" on {limits.mesh}" if limits.mesh else ""


def _floors(limits: Limits) -> str:
    """Which of the two floors the least is; nothing where there is but the house's."""
    return f" ({limits.floors})" if limits.floors else ""


def _pinhole(f: Finding, limits: Limits, dmax: float | None) -> tuple[str, str]:
    return (
        f"Light passes a hole of {f.value:.2f} mm: it hardens there and the print has a spot without ink{_on(limits)}.",
        "Opaque pen on the hole, ink side up, and let it dry.",
    )


def _speck(f: Finding, limits: Limits, dmax: float | None) -> tuple[str, str]:
    return (
        f"A grain of {f.value:.2f} mm stops the light: the stencil opens there and prints a dot{_on(limits)}.",
        "Wipe the film; if it stays, scrape it off or block the hole in the stencil.",
    )


def _scratch(f: Finding, limits: Limits, dmax: float | None) -> tuple[str, str]:
    return (
        f"A clear line {f.value:.2f} mm wide through the black: it hardens into a line without ink.",
        "Opaque pen along the scratch; across fine detail reprint.",
    )


def _weak(f: Finding, limits: Limits, dmax: float | None) -> tuple[str, str]:
    more = "" if dmax is None else f" where the film's black is {dmax:.2f}"
    return (
        f"Density {f.value:.2f}{more}: light leaks {10 ** max(0, (dmax or f.value) - f.value):.0f} times as much here and "
        "the stencil scums before it is cured.",
        f"Reprint at the densest setting, or {REMEDIES[1]}; touch up bold areas only, never fine detail.",
    )


def _dull(f: Finding, limits: Limits, dmax: float | None) -> tuple[str, str]:
    return (
        f"Clear film of {f.value:.2f} here, denser than the rest of it: less light comes through, and the stencil stays "
        "soft or washes off there.",
        "Wipe it; an oiled sheet is oiled again on both faces and its bubbles rubbed out; else print on another sheet.",
    )


def _banding(f: Finding, limits: Limits, dmax: float | None) -> tuple[str, str]:
    return (
        f"Bands {f.value:.2f} weaker than the black between them, as a blocked nozzle leaves them.",
        "Clean the head, print the nozzle test, reprint. Toner: turn the drum out and look at it.",
    )


def _thin(f: Finding, limits: Limits, dmax: float | None) -> tuple[str, str]:
    return (
        f"{f.value:.2f} mm thin; {limits.line_mm:.2f} mm is the least that holds{_on(limits)}{_floors(limits)}.",
        "Draw it wider in the artwork, or choose a finer mesh.",
    )


def _dot(f: Finding, limits: Limits, dmax: float | None) -> tuple[str, str]:
    return (
        f"The smallest dots measure {f.value:.3f} mm; {limits.dot_mm:.3f} mm holds"
        f"{_on(limits) or ' on the finest usual mesh'}.",
        "Coarser ruling, a finer mesh, or cut the highlights off at the dot that holds.",
    )


def _type(f: Finding, limits: Limits, dmax: float | None) -> tuple[str, str]:
    return (
        f"Strokes of {f.value:.2f} mm; {limits.line_mm:.2f} mm is the least that holds{_on(limits)}{_floors(limits)}.",
        "Set the words larger or bolder, or choose a finer mesh.",
    )


def _type_size(f: Finding, limits: Limits, dmax: float | None) -> tuple[str, str]:
    return (
        f"Set in about {f.value:.2g} pt; {limits.sans_pt:g} pt without serifs and {limits.serif_pt:g} pt with them are the "
        "least that the trade prints.",
        "Set the words larger, or without serifs.",
    )


@dataclass(frozen=True)
class FindingKind:
    """One kind of finding.

    Attributes:
        label: its word, `plural` the same of several. unit: of its value.
        explain: (why it matters, what to do) of a finding, its limits and the film's black.
        though_passed: words for so many of them on a film that passes; None where one of them fails a film. Dust on
            clear film leaves a spot that can be blocked in the stencil, and the trade's floor for type is a custom where
            the strokes themselves are wide enough.
    """

    label: str
    plural: str
    unit: str
    explain: Callable[[Finding, Limits, float | None], tuple[str, str]]
    though_passed: Callable[[int], str] | None = None


def _dust(number: int) -> str:
    return f"{number} speck{'s' if number > 1 else ''} on clear film: wipe, or block in the stencil."


def _below_the_floor(number: int) -> str:
    return f"{number} run{'s' if number > 1 else ''} of type below the trade's floor: look at them."


KINDS: Mapping[str, FindingKind] = {
    "pinhole": FindingKind("pinhole", "pinholes", "mm", _pinhole),
    "speck": FindingKind("speck", "specks", "mm", _speck, _dust),
    "scratch": FindingKind("scratch", "scratches", "mm", _scratch),
    "weak_area": FindingKind("weak area", "weak areas", "D", _weak),
    "dull_clear": FindingKind("dull clear film", "dull places in clear film", "D", _dull),
    "banding": FindingKind("banding", "banding", "D", _banding),
    "thin_line": FindingKind("thin line", "thin lines", "mm", _thin),
    "small_dot": FindingKind("small dot", "small dots", "mm", _dot),
    "type": FindingKind("small type", "small type", "mm", _type),
    "type_size": FindingKind("type below the floor", "types below the floor", "pt", _type_size, _below_the_floor),
}
