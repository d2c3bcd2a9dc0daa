"""Which counts the trade takes for an ink, for goods, for what the plate does, by hand or by machine.

These are customs, not physics: a mesh outside them may serve and is ranked behind those inside. The shop keeps its own
bounds among the house settings, under `meshuse.<aspect>-<name>-least` and `-most`, threads per inch.
"""

from collections.abc import Mapping
from dataclasses import dataclass

from frimble.core.conclusions import InvalidInput, Settings
from frimble.core.units import per_cm, per_inch


@dataclass(frozen=True)
class MeshPractice:
    """Counts usual for one thing, threads per inch, with the mark and the reason of the numbers.

    `usual` is the one in the middle of them that is mostly taken; 0 where none is.
    """

    words: str
    least: float
    most: float
    mark: str
    reason: str
    usual: float = 0


_ROLES = {
    "glitter": MeshPractice("glitter and large particles", 10, 54, "C", "24; a nearly full coater.", 24),
    "block": MeshPractice("block prints, thick deposits", 60, 100, "C", "86.", 86),
    "opaque": MeshPractice("heavy opaque white, shimmer", 86, 140, "C", "110.", 110),
    "base": MeshPractice("white base with detail", 130, 180, "C", "156.", 156),
    "spot": MeshPractice("spot colour, top white, labels", 180, 230, "C", "195–200.", 195),
    "overprint": MeshPractice("overprint, wet on wet, fine halftone", 200, 280, "C", "230.", 230),
    "simulated": MeshPractice("simulated process", 280, 330, "C", "305.", 305),
    "process": MeshPractice("four-colour process", 330, 420, "C", "355.", 355),
}
_INKS = {
    "plastisol": MeshPractice("plastisol", 60, 330, "M", "Never dries in the mesh."),
    "water": MeshPractice("water-based textile ink", 83, 200, "C", "About 110; finer mesh lets it dry in."),
    "metallic": MeshPractice("metallic and shimmer", 60, 140, "C", "110: flakes block finer mesh."),
    "solvent": MeshPractice("solvent ink, enamel", 180, 380, "M", "Thin, quick to dry; a thick film wrinkles."),
    "uv": MeshPractice("UV-curing ink", 280, 420, "M", "A thick film does not cure through."),
}
_GOODS = {
    "sacking": MeshPractice("sacking, coarse weave", 24, 110, "M", "The weave drinks ink."),
    "dark": MeshPractice("dark cloth", 60, 180, "M", "Opacity wants ink."),
    "light": MeshPractice("light cloth", 86, 355, "M", "Little ink covers."),
    "sailcloth": MeshPractice("sailcloth, nylon", 100, 230, "M", "Smooth weave that takes little up."),
    "film": MeshPractice("decals, paper", 180, 420, "M", "Takes nothing up: thin films dry flat."),
    "hard": MeshPractice("tin, glass, other hard goods", 230, 420, "M", "Takes nothing up: fine lines spread."),
}
_STROKES = {
    "hand": MeshPractice("pulled by hand", 10, 280, "M", "Finer mesh wants a steadier stroke than an arm's."),
    "machine": MeshPractice("automatic", 24, 420, "M", "Even pressure clears fine mesh."),
}
CUSTOMS: Mapping[str, Mapping[str, MeshPractice]] = {"ink": _INKS, "goods": _GOODS, "role": _ROLES, "stroke": _STROKES}


def setting_key(aspect: str, name: str, end: str) -> str:
    """The house setting that holds one bound; `end` is "least" or "most"."""
    return f"meshuse.{aspect}-{name}-{end}"


def judge_customs(count_per_cm: float, asked: Mapping[str, str], settings: Settings) -> tuple[list[str], list[str]]:
    """(words for what agrees with custom, words for what departs from it).

    Args:
        asked: name of what is printed by aspect, such as {"ink": "water"}.

    Raises:
        InvalidInput: an unknown name.
    """
    agrees, departs = [], []
    count = per_inch(count_per_cm)
    for aspect, name in asked.items():
        if name not in CUSTOMS[aspect]:
            raise InvalidInput(f"“{name}” is none of {', '.join(CUSTOMS[aspect])}.", aspect)
        least, most = (settings[setting_key(aspect, name, end)] for end in ("least", "most"))
        words = CUSTOMS[aspect][name].words
        # The trade rounds its counts.
        if least * 0.99 <= count <= most * 1.01:
            agrees.append(words)
        else:
            departs.append(
                f"{'coarser' if count < least else 'finer'} than usual for {words}, {least:g}–{most:g} per inch "
                f"({per_cm(least):.0f}–{per_cm(most):.0f} per cm)"
            )
    return ([f"usual for {', '.join(agrees)}"] if agrees else []), departs
