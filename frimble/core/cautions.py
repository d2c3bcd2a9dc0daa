"""Cautions, shown at the step where they matter. They never replace the local codes or a licensed tradesperson."""

from dataclasses import dataclass

CLOSING = "Local codes and the product's safety data sheet come first."


@dataclass(frozen=True)
class Caution:
    """Cautions of one step: the hazards, each a short sentence."""

    step: str
    points: tuple[str, ...]
    closing: str = CLOSING


_POINTS = {
    "degrease": (
        "Gloves and goggles; keep degreaser away from food.",
        "Frame corners and staples cut. Lift large wet frames with two hands, rail to rail.",
    ),
    "dry_bare": ("Compressed air: eye protection, and only while there is no emulsion on the mesh.",),
    "coat": (
        "Sensitisers: gloves, goggles, fresh air. Two liquids of one colour: read the label before pouring.",
        "Keep emulsion away from food and out of a food fridge.",
        "Loose end caps spill: check them before lifting the coater. Dark rooms: keep the floor clear.",
    ),
    "expose": (
        "UV light harms eyes and skin: never look in, keep covers closed.",
        "Lamps run hot: nothing near them, extinguisher in date, never unattended.",
        "Glass can break under heat or weight; its edges cut.",
        "A lamp without a switch: a switched outlet and dry hands. Home-built boxes need an enclosure and a cool-down.",
    ),
    "wash": (
        "Pressure washer: ears, eyes, waterproofs. The jet injures; motor off when idle.",
        "Water and electricity: a residual-current device (RCD/GFCI) and a licensed electrician for circuits.",
    ),
    "harden": (
        "Chemical hardeners burn skin and eyes: gloves, goggles, fresh air; never near food or other liquids of its colour.",
        "UV light harms eyes and skin: never look in, keep covers closed.",
    ),
    "press": (
        "Stop the automatic press before reaching in.",
        "Flash units and dryers are hot. Curing smoke and fumes: stop and extract; blends melt.",
        "Solvents: gloves and air. Oily rags go into a lidded metal bin.",
    ),
    "strip": (
        "Ink remover: gloves, goggles, air; never mix products.",
        "Scrape ink back first. Waste by local rules, not into drains where that is forbidden.",
    ),
    "reclaim": (
        "Emulsion removers are oxidisers: gloves, goggles, air; never mix, never let it dry on the mesh.",
        "Pressure washer: ears, eyes, waterproofs; electricity and water apart.",
        "Slurry clogs drains: strain it; waste by local rules.",
    ),
    "image": ("The thermal head is hot and its film fumes: extract, and let it cool before reaching in.",),
    "block_out": ("Fillers and drawing fluid: gloves and air; trimming knives cut away from the hand.",),
    "cut_out": ("Mesh under tension springs when cut: goggles, and cut away from the body.",),
}  # fmt: skip


# Steps that share another's hazards.
_SAME_AS = {"to_press": "press", "from_press": "press", "dry_mesh": "dry_bare"}


def for_step(step: str) -> Caution | None:
    """The cautions of a step of the work, or None where the step has none."""
    points = _POINTS.get(_SAME_AS.get(step, step))
    return Caution(step, points) if points else None


def steps_with_cautions() -> tuple[str, ...]:
    return tuple(_POINTS)
