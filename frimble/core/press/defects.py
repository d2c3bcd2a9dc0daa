"""Faults of a print, as they are tapped on its drawing, and where each comes from first."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum


class PrintFault(StrEnum):
    """What is wrong at a place of a print."""

    SPECK = "speck"
    MISSING = "missing"
    THIN = "thin"
    FILLED_IN = "filled_in"
    SMEAR = "smear"
    DOUBLE = "double"
    OFF_REGISTER = "off_register"


@dataclass(frozen=True)
class PrintFaultCard:
    """Its label, where to look first, and the stencil's symptom that it is, or "" where it is ink's or press's."""

    label: str
    look: str
    symptom: str = ""


# Common practice, no source.
PRINT_FAULTS: Mapping[PrintFault, PrintFaultCard] = {
    PrintFault.SPECK: PrintFaultCard("Speck of ink", "A pinhole: hold the screen against light, block it.", "pinholes"),
    PrintFault.MISSING: PrintFaultCard(
        "Part missing", "A blocked opening, or ink dried in the mesh: wipe it out first, then look.", "opens_in_parts"
    ),
    PrintFault.THIN: PrintFaultCard(
        "Thin place", "Scum in the opening, a worn blade or low off-contact there.", "scum_in_openings"
    ),
    PrintFault.FILLED_IN: PrintFaultCard(
        "Fine gap filled in", "Too much ink or pressure, or the fine line of stencil is gone.", "fine_lines_of_stencil_lost"
    ),
    PrintFault.SMEAR: PrintFaultCard("Smear", "Ink on the underside: wipe the print side, raise the off-contact."),
    PrintFault.DOUBLE: PrintFaultCard("Double edge", "The garment moved or the mesh lifts late: tension first."),
    PrintFault.OFF_REGISTER: PrintFaultCard("Does not meet", "Tension and clamps first, then the film's own size."),
}  # fmt: skip
