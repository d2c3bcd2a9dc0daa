"""What the pages of a stencil proof show."""

from dataclasses import dataclass

from frimble.core.numbers import counted
from frimble.core.simulation.screen.light import Exposure
from frimble.core.stencil.proof.constants import Cures, ProofConstants
from frimble.core.stencil.proof.kinds import ProofKind
from frimble.core.units import show_seconds
from frimble.stencils.models import StencilProof

KIND_WORDS = {
    ProofKind.CLOSES: ("closes", "of it"),
    ProofKind.WASHES_AWAY: ("washes away", "µm"),
    ProofKind.SAW_TOOTH: ("rough edges", "µm"),
    ProofKind.DOT_LOST: ("dots lost", "µm"),
}
_LISTED = 40
# Boxes are drawn no smaller, so that a dot is seen on the whole picture: share of the longer side.
_LEAST_BOX = 0.012


@dataclass(frozen=True)
class ProofRow:
    """A place that will not be as the film asks."""

    number: int
    kind: str
    words: str
    place: str
    why: str
    box: tuple[float, float, float, float]
    middle: tuple[float, float]


@dataclass(frozen=True)
class ProofPage:
    """A worked-out proof."""

    headline: str
    summary: str
    opens: str
    stands: str
    rows: list[ProofRow]
    more: int
    size: tuple[float, float]
    remedies: list[str]
    best: str
    tried: list[list[float]]
    tones: list[list[float]]
    first: tuple[float, float]
    rests_on: list[str]


def proof_page(proof: StencilProof) -> ProofPage:
    r = proof.result
    rows = [_row(k, f, max(r["size_mm"])) for k, f in enumerate(r["findings"], start=1)]
    low, high = sorted(r["opened_ends"])
    places = counted(len(rows), "place", "places")
    return ProofPage(
        f"{places} not as the film asks" if rows else "As the film asks",
        f"At {show_seconds(proof.time_s)} {r['opened_share']:.1%} of the film's black opens; {low:.1%} to {high:.1%} by how "
        "fast it may cure.",
        _widths("Openings from", r["finest_open_um"], "stay open", "Nothing opens at this time."),
        _widths("Stencil from", r["finest_standing_um"], "stands", "Nothing stands at this time."),
        rows[:_LISTED],
        max(0, len(rows) - _LISTED),
        tuple(r["size_mm"]),
        r["remedies"],
        _best_words(r["best"]),
        r["best"]["tried"],
        r["tones"],
        rows[0].middle if rows else (r["size_mm"][0] / 2, r["size_mm"][1] / 2),
        proof.known["rests_on"],
    )


def _row(number: int, finding: dict, longest: float) -> ProofRow:
    words, unit = KIND_WORDS[ProofKind(finding["kind"])]
    value = finding["value"]
    shown = f"{value:.0%} of it" if unit == "of it" else f"{value:.0f} {unit}"
    x, y, wide, high = (finding[key] for key in ("x_mm", "y_mm", "width_mm", "height_mm"))
    middle = (x + wide / 2, y + high / 2)
    least = _LEAST_BOX * longest
    drawn = (max(wide, least), max(high, least))
    box = (middle[0] - drawn[0] / 2, middle[1] - drawn[1] / 2, *drawn)
    place = f"{wide:.1f} × {high:.1f} mm at {x:.1f}, {y:.1f} mm"
    return ProofRow(number, words, shown, place, finding["why"], box, middle)


def _widths(begin: str, ends, verb: str, none: str) -> str:
    usual, fast, slowly = ends
    if usual is None:
        return none
    known = sorted(round(w) for w in (fast, slowly) if w is not None)
    apart = len(known) == 2 and known[0] < known[1]
    spread = f" ({known[0]} to {known[1]} µm by how fast it may cure)" if apart else ""
    return f"{begin} {usual:.0f} µm on {verb}{spread}."


def _best_words(best: dict) -> str:
    middle, low, high = (show_seconds(round(best[key], 1)) for key in ("time_s", "low_s", "high_s"))
    as_well = f"; {low} to {high} do as well" if low != high else ""
    return f"Of the times that cure it through {middle} loses least of this film{as_well}."


@dataclass(frozen=True)
class PartWords:
    """What stands beside the visible part."""

    opens: str
    stands: str
    share: str


def part_words(known: ProofConstants, time_s: float, opening_um: float, opened: float | None) -> PartWords:
    lights = [known.light(time_s, cures) for cures in (Cures.USUALLY, Cures.FAST, Cures.SLOWLY)]
    return PartWords(
        _widths(
            "Openings from", [light.finest_open_um() for light in lights], "stay open", "Nothing opens at this time."
        ),
        _widths(
            "Stencil from", [_held(light, opening_um) for light in lights], "stands", "Nothing stands at this time."
        ),
        "No black here." if opened is None else f"{opened:.1%} of the black here opens.",
    )


def _held(light: Exposure, opening_um: float) -> float | None:
    held = light.finest_held_um()
    return None if held is None else max(held, opening_um)
