"""Coat formulas that rooms commonly use, each with the reason its school gives."""

from dataclasses import dataclass


@dataclass(frozen=True)
class FormulaPractice:
    """A formula, what it is laid for, and why by those who lay it so."""

    formula: str
    use: str
    reason: str


# Common practice, no source. Schools differ on sides and number; the house's own stands among its settings.
CUSTOMS = (
    FormulaPractice("P1 S1", "everyday work, 43 to 48 per cm above all", "Filled from one side, levelled from the other."),
    FormulaPractice("S1 P1 S1", "three wet strokes", "The last pushes the coat to the print side, where it seals."),
    FormulaPractice("P1", "one side only, lean coats for fine halftone", "The least emulsion; the other side stays lean."),
    FormulaPractice("P2 S2", "more body, cleaner edges on coarse mesh", "Twice each side bridges threads; keep it even."),
    FormulaPractice("P2 S3", "thick wet on wet", "The extra stroke stands the coat on the print side."),
    FormulaPractice("P1 S1 / P1r / P1r", "built up for opaque white",
           "Round edge, light pressure, each layer dried: thick without sagging."),
    FormulaPractice("P1 S1x", "thinned", "An empty edge takes the surplus off: even and thin."),
)  # fmt: skip
