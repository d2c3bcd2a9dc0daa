"""Each cause: how common it is, how often each symptom is seen with it, what to do now and what to do next time."""

from collections.abc import Mapping
from dataclasses import dataclass

from frimble.core.stencil.diagnosis.codes import Cause, Symptom

S = Symptom


@dataclass(frozen=True)
class CauseCard:
    """What is known of a cause before any record is looked at.

    Attributes:
        label: its words on a page.
        weight: how common it is beside the others.
        seen: how often each symptom is noticed where this is the main cause, 0..1; others are chance.
        now, next_time: what to do with this stencil, and with the next.
    """

    label: str
    weight: float
    seen: Mapping[Symptom, float]
    now: str
    next_time: str


# Which symptoms come with which cause: common practice, no source. How often: from memory.
CAUSES: Mapping[Cause, CauseCard] = {
    Cause.UNDER_EXPOSED: CauseCard(
        "under-exposed", 1.6,
        {S.ALL_WASHES_AWAY: 0.5, S.SLIMY: 0.6, S.EDGES_PEEL: 0.4, S.FINE_LINES_LOST: 0.4, S.LIFTS_IN_SHEETS: 0.3,
         S.BREAKS_DOWN: 0.35, S.PINHOLES: 0.35, S.SOFT_EDGES: 0.2},
        "If it still stands, rinse gently, dry it and give the light again through the back; else reclaim.",
        "Expose inside the window: test this coat, mesh and lamp."),
    Cause.OVER_EXPOSED: CauseCard(
        "over-exposed", 1.4,
        {S.IMAGE_WILL_NOT_OPEN: 0.5, S.FINE_OPENINGS_CLOSED: 0.65, S.OPENS_IN_PARTS: 0.4, S.SCUM: 0.2,
         S.HARD_TO_RECLAIM: 0.2},
        "Soak longer, rinse warmer and from the print side; where it does not open, reclaim.",
        "Shorten the light to inside the window."),
    Cause.NOT_DRY: CauseCard(
        "coat not dry inside", 1.5,
        {S.ALL_WASHES_AWAY: 0.45, S.LIFTS_IN_SHEETS: 0.5, S.SLIMY: 0.35, S.EDGES_PEEL: 0.3, S.PINHOLES: 0.2,
         S.BREAKS_DOWN: 0.2, S.FINE_LINES_LOST: 0.2},
        "Reclaim: what was damp under the light was not cured.",
        "Hold it until its weight no longer falls, or to the end of the drying interval, in air under 50 % humidity."),
    Cause.EMULSION_OLD: CauseCard(
        "emulsion past its life", 1.0,
        {S.IMAGE_WILL_NOT_OPEN: 0.35, S.OPENS_IN_PARTS: 0.25, S.SCUM: 0.35, S.ALL_WASHES_AWAY: 0.25, S.FISHEYES: 0.15,
         S.PINHOLES: 0.25, S.SLIMY: 0.2, S.FINE_OPENINGS_CLOSED: 0.2, S.BREAKS_DOWN: 0.15, S.EDGES_PEEL: 0.2},
        "Reclaim, and put the batch aside.",
        "Coat from a batch within its life; calibrate anew where it ages."),
    Cause.COATED_LONG_AGO: CauseCard(
        "coated too long ago", 1.0,
        {S.IMAGE_WILL_NOT_OPEN: 0.45, S.OPENS_IN_PARTS: 0.35, S.SCUM: 0.4, S.FINE_OPENINGS_CLOSED: 0.3,
         S.ALL_WASHES_AWAY: 0.2, S.HARD_TO_RECLAIM: 0.15},
        "Soak long and rinse warm; where it does not open, reclaim.",
        "Use the oldest coats first and reclaim those past what a coat keeps."),
    Cause.FOGGED: CauseCard(
        "fogged by stray light or heat", 1.1,
        {S.IMAGE_WILL_NOT_OPEN: 0.5, S.OPENS_IN_PARTS: 0.35, S.SCUM: 0.5, S.FINE_OPENINGS_CLOSED: 0.35, S.ONE_CORNER: 0.1,
         S.HARD_TO_RECLAIM: 0.1},
        "Soak long and rinse warm; where it does not open, reclaim.",
        "Safe light only from the open batch to the rinse; dry and keep it under 40 °C."),
    Cause.FILM_LEAKS: CauseCard(
        "film lets light through", 1.4,
        {S.IMAGE_WILL_NOT_OPEN: 0.4, S.OPENS_IN_PARTS: 0.45, S.SCUM: 0.55, S.FINE_OPENINGS_CLOSED: 0.35},
        "Rinse warmer and longer; where a skin stays, reclaim.",
        "Print the film at its densest, or lay a second one over it, and test its hold-out."),
    Cause.FILM_LACKS_DETAIL: CauseCard(
        "detail is not on the film", 0.9,
        {S.FINE_LINES_LOST: 0.6, S.FINE_OPENINGS_CLOSED: 0.55, S.SAW_TOOTH: 0.1, S.SOFT_EDGES: 0.2},
        "Make the film anew before another screen.",
        "Check the film's finest lines and dots on the light table before it goes under the lamp."),
    Cause.POOR_CONTACT: CauseCard(
        "film did not lie close", 1.1,
        {S.SOFT_EDGES: 0.6, S.FINE_OPENINGS_CLOSED: 0.5, S.FINE_LINES_LOST: 0.3, S.ONE_CORNER: 0.3, S.DISTORTED: 0.15,
         S.OPENS_IN_PARTS: 0.2},
        "Where the edges will do, print; else reclaim.",
        "Coated side of the film to the coat, vacuum down and blanket flat before the light."),
    Cause.DEGREASER_LEFT: CauseCard(
        "degreaser left in the mesh", 0.9,
        {S.FISHEYES: 0.5, S.PINHOLES: 0.45, S.EDGES_PEEL: 0.4, S.LIFTS_IN_SHEETS: 0.4, S.ALL_WASHES_AWAY: 0.2},
        "Reclaim and degrease again.",
        "Rinse until there is no foam, and then longer."),
    Cause.NOT_DEGREASED: CauseCard(
        "mesh not degreased", 1.0,
        {S.FISHEYES: 0.55, S.PINHOLES: 0.5, S.EDGES_PEEL: 0.4, S.LIFTS_IN_SHEETS: 0.35, S.BREAKS_DOWN: 0.25},
        "Block pinholes if they are few; else reclaim and degrease.",
        "Degrease both sides before each coat and touch the mesh no more."),
    Cause.OLD_RESIDUE: CauseCard(
        "residue of the stencil before", 1.0,
        {S.GHOST: 0.5, S.PINHOLES: 0.3, S.OPENS_IN_PARTS: 0.35, S.SCUM: 0.3, S.FISHEYES: 0.3, S.EDGES_PEEL: 0.25,
         S.IMAGE_WILL_NOT_OPEN: 0.1},
        "Look at the mesh against light; take off what is left with remover or haze remover.",
        "Look at each reclaimed mesh against light before it dries."),
    Cause.TOO_THIN: CauseCard(
        "coat too thin", 1.2,
        {S.SAW_TOOTH: 0.6, S.PINHOLES: 0.5, S.BREAKS_DOWN: 0.45, S.SOFT_EDGES: 0.2, S.FINE_LINES_LOST: 0.15},
        "Block pinholes; for a short run it may do.",
        "Another stroke on the print side, or a rounder edge; measure the emulsion over mesh."),
    Cause.TOO_THICK: CauseCard(
        "coat too thick for its light", 0.9,
        {S.FINE_OPENINGS_CLOSED: 0.4, S.SLIMY: 0.5, S.IMAGE_WILL_NOT_OPEN: 0.2, S.SOFT_EDGES: 0.25, S.LIFTS_IN_SHEETS: 0.3,
         S.EDGES_PEEL: 0.3, S.ALL_WASHES_AWAY: 0.15},
        "If it stands, dry it and give the light again through the back.",
        "Fewer strokes or a sharper edge, and a time tested for this thickness."),
    Cause.BUBBLES: CauseCard(
        "bubbles in the coat", 0.9,
        {S.PINHOLES: 0.8, S.FISHEYES: 0.25, S.BREAKS_DOWN: 0.1},
        "Block the pinholes.",
        "Stir slowly and let the batch stand until the bubbles are out; coat slower."),
    Cause.EDGE_DIRTY: CauseCard(
        "dried emulsion on the coater's edge", 1.0,
        {S.LIGHT_LINES: 0.85, S.PINHOLES: 0.1, S.BREAKS_DOWN: 0.1, S.SAW_TOOTH: 0.1},
        "Tape or fill where a line crosses the image.",
        "Soak and buff the edge; wash the coater at once after each run."),
    Cause.CHIPPED: CauseCard(
        "coater's edge chipped", 0.9,
        {S.LIGHT_LINES: 0.7, S.BEADS: 0.25, S.SLIMY: 0.15, S.EDGES_PEEL: 0.1},
        "Look along the edge; keep the image off the line.",
        "Sand out a small chip; replace the coater for a large one."),
    Cause.OVERFILLED: CauseCard(
        "coater too full", 0.9,
        {S.BEADS: 0.85, S.EDGES_PEEL: 0.15, S.SLIMY: 0.15, S.ONE_CORNER: 0.1},
        "Tape the sides; wipe the exposure glass.",
        "Fill half to two thirds, and the same each time."),
    Cause.OVER_WASHED: CauseCard(
        "washed too hard or too long", 1.1,
        {S.FINE_LINES_LOST: 0.55, S.EDGES_PEEL: 0.5, S.LIFTS_IN_SHEETS: 0.2, S.SOFT_EDGES: 0.2, S.SAW_TOOTH: 0.1,
         S.PINHOLES: 0.15},
        "Fill the chips, or run it as it is and look at the print.",
        "Stop when every opening passes light; stand back with the jet, water lukewarm."),
    Cause.WASHED_TOO_LITTLE: CauseCard(
        "washed too little", 1.2,
        {S.OPENS_IN_PARTS: 0.5, S.SCUM: 0.6, S.FINE_OPENINGS_CLOSED: 0.5, S.IMAGE_WILL_NOT_OPEN: 0.2},
        "Wet it again now, soak and rinse from the print side until all is open.",
        "Soak 30 to 45 s and rinse until every opening passes light."),
    Cause.UNEVEN_LIGHT: CauseCard(
        "light uneven over the glass", 1.0,
        {S.ONE_CORNER: 0.8, S.OPENS_IN_PARTS: 0.35, S.EDGES_PEEL: 0.15, S.SLIMY: 0.15},
        "Keep what is needed off the weak corner.",
        "Measure the field at nine places; more distance, or the image in the middle."),
    Cause.LAMP_WEAK: CauseCard(
        "lamp has faded", 1.0,
        {S.ALL_WASHES_AWAY: 0.4, S.SLIMY: 0.55, S.EDGES_PEEL: 0.35, S.LIFTS_IN_SHEETS: 0.25, S.FINE_LINES_LOST: 0.35,
         S.BREAKS_DOWN: 0.35, S.PINHOLES: 0.2},
        "If it still stands, dry it and give the light again through the back.",
        "Test the lamp anew; change the bulb when the time no longer suits."),
    Cause.LAMP_COLD: CauseCard(
        "lamp not warmed up", 0.9,
        {S.ALL_WASHES_AWAY: 0.4, S.SLIMY: 0.5, S.EDGES_PEEL: 0.35, S.LIFTS_IN_SHEETS: 0.25, S.FINE_LINES_LOST: 0.35,
         S.BREAKS_DOWN: 0.25, S.PINHOLES: 0.2},
        "If it still stands, dry it and give the light again through the back.",
        "Let the lamp come to its full light before the first screen."),
    Cause.WHITE_MESH: CauseCard(
        "light scattered by white thread", 0.9,
        {S.FINE_OPENINGS_CLOSED: 0.6, S.SOFT_EDGES: 0.5, S.SAW_TOOTH: 0.15, S.SCUM: 0.1},
        "Where the detail will do, print.",
        "Yellow mesh for fine detail, or a shorter time."),
    Cause.REFLECTION: CauseCard(
        "light came back from behind the mesh", 0.8,
        {S.FINE_OPENINGS_CLOSED: 0.45, S.SOFT_EDGES: 0.4, S.SCUM: 0.3, S.IMAGE_WILL_NOT_OPEN: 0.15, S.OPENS_IN_PARTS: 0.2},
        "Soak longer and rinse from the print side.",
        "Lay black foam or sheet behind the mesh."),
    Cause.SPECKS: CauseCard(
        "specks on film or glass", 1.2,
        {S.PINHOLES: 0.85, S.ONE_CORNER: 0.05},
        "Block the pinholes.",
        "Wipe glass and both faces of the film before each screen."),
    Cause.WRONG_FOR_INK: CauseCard(
        "emulsion does not stand this ink", 1.0,
        {S.BREAKS_DOWN: 0.85, S.SLIMY: 0.2, S.EDGES_PEEL: 0.25, S.PINHOLES: 0.2, S.HARD_TO_RECLAIM: 0.1},
        "Stop, wash the ink out; harden it if the run must be finished.",
        "An emulsion that stands this ink."),
    Cause.NOT_HARDENED: CauseCard(
        "not hardened for its run", 0.9,
        {S.BREAKS_DOWN: 0.85, S.PINHOLES: 0.2, S.EDGES_PEEL: 0.2, S.SLIMY: 0.1},
        "Wash the ink out, dry it and give the light again.",
        "Harden stencils for water-based ink and long runs: as long again in the light."),
    Cause.HARDENED_FOR_GOOD: CauseCard(
        "hardened for good", 0.9,
        {S.HARD_TO_RECLAIM: 0.95, S.GHOST: 0.25},
        "Repeat the remover on a wet screen, hot water; else new mesh.",
        "Chemical hardener only where the stencil is kept."),
    Cause.DUST: CauseCard(
        "dust in the coat", 1.1,
        {S.PINHOLES: 0.8, S.FISHEYES: 0.2},
        "Block the pinholes.",
        "Strain the emulsion, wipe frames, keep the cabinet free of dust."),
    Cause.REMOVER_DRIED: CauseCard(
        "remover dried in", 0.9,
        {S.HARD_TO_RECLAIM: 0.85, S.GHOST: 0.35},
        "Wet it, more remover, short dwell, high pressure; it may stay.",
        "Never let remover dry: 30 s, then rinse."),
    Cause.MESH_COARSE: CauseCard(
        "mesh too coarse for the detail", 1.0,
        {S.SAW_TOOTH: 0.65, S.FINE_LINES_LOST: 0.5, S.FINE_OPENINGS_CLOSED: 0.15, S.SOFT_EDGES: 0.15},
        "Where the detail will do, print.",
        "A finer mesh, by the mesh chooser."),
    Cause.WRONGLY_MIXED: CauseCard(
        "emulsion wrongly mixed", 0.9,
        {S.ALL_WASHES_AWAY: 0.7, S.LIFTS_IN_SHEETS: 0.25, S.SLIMY: 0.3, S.PINHOLES: 0.15, S.FISHEYES: 0.15,
         S.BREAKS_DOWN: 0.15},
        "Reclaim, and put the batch aside.",
        "Sensitiser as the batch page works it out, stirred in and noted."),
    Cause.INK_DRIED: CauseCard(
        "ink dried in the mesh", 1.0,
        {S.GHOST: 0.6, S.HARD_TO_RECLAIM: 0.4, S.FINE_OPENINGS_CLOSED: 0.3, S.OPENS_IN_PARTS: 0.15},
        "Ink remover on a wet screen, its own pad, both sides.",
        "Ink out of the screen at the end of the run."),
    Cause.SLACK: CauseCard(
        "mesh slack or unevenly stretched", 1.0,
        {S.DISTORTED: 0.85, S.SOFT_EDGES: 0.2, S.BREAKS_DOWN: 0.1, S.ONE_CORNER: 0.15},
        "Measure the tension; raise the off-contact for this run.",
        "Stretch it again, or use it for less critical work."),
}  # fmt: skip
