"""Which mesh: from what is to be printed to a ranked list with reasons."""

import math
from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from frimble.core.conclusions import InvalidInput, Settings, require_positive
from frimble.core.exposure.light.dose import stencil_factor
from frimble.core.mesh import halftone
from frimble.core.mesh.geometry import USUAL_MESHES, MeshGeometry
from frimble.core.mesh.geometry import geometry as geometry_of
from frimble.core.mesh.halftone import DotRange
from frimble.core.mesh.practice import CUSTOMS, judge_customs
from frimble.core.units import per_cm, per_inch

# What the trade uses a mesh for, by threads per inch from this count up. Common practice.
USES = (
    (0, "glitter and other large particles, with a nearly full coater; slow to dry and expose"),
    (60, "block prints and thick deposits"),
    (100, "heavy opaque white, shimmer, water-based textile paint, a first screen"),
    (140, "white base with detail"),
    (180, "spot colours, top white, small labels"),
    (220, "overprints, wet on wet, fine halftone"),
    (290, "simulated process, little gain"),
    (345, "four-colour process"),
)
_REFERENCE = (43, 80)
# Thread that such counts usually have, µm, by count per cm; below so much of it a thread is thin.
_USUAL_THREADS = {cm: max(um for _, c, um in USUAL_MESHES if c == cm) for _, cm, _ in USUAL_MESHES}
_THIN = 0.85
SCHOOLS = {"opacity": "opacity in one pass", "soft": "softer hand, less ink"}


@dataclass(frozen=True)
class MeshRequest:
    """What is to be printed. Every field but the school may be left out.

    Attributes:
        ruling_lpi: halftone ruling, lines per inch.
        finest_um: finest line or gap, µm.
        particle_um: largest particle in the ink, µm.
        deposit_cm3_per_m2: least wet deposit, cm³/m².
        ink, goods, role, stroke: names from `core.mesh.practice.CUSTOMS`.
    """

    school: str
    ruling_lpi: float | None = None
    finest_um: float | None = None
    particle_um: float | None = None
    deposit_cm3_per_m2: float | None = None
    ink: str | None = None
    goods: str | None = None
    role: str | None = None
    stroke: str | None = None

    @property
    def customs(self) -> dict[str, str]:
        """What is asked of the trade's customs, name by aspect."""
        return {aspect: name for aspect in CUSTOMS if (name := getattr(self, aspect))}


@dataclass(frozen=True)
class Cost:
    """What a mesh costs: emulsion, ml/m², and exposure against 43-80 white under the same lamp, to be tested.

    Both from an ordinary coat; `exposure` is for white and yellow thread.
    """

    emulsion_ml_per_m2: float
    exposure_white: float
    exposure_yellow: float


@dataclass(frozen=True)
class Choice:
    """One mesh judged: whether it serves, why or why not, where it departs from custom, and what it costs and holds.

    Attributes:
        short_by: how many times more than it has is asked of it where it falls shortest; 1 when it serves.
        cost: None for thermal film, which takes neither emulsion nor light. warnings: what it may lose though it serves.
    """

    name: str
    geometry: MeshGeometry
    serves: bool
    short_by: float
    reasons: tuple[str, ...]
    departs: tuple[str, ...]
    floor_um: float
    dots: halftone.DotRange | None
    use: str
    cost: Cost | None
    warnings: tuple[str, ...] = ()


def cost_of(cloth: MeshGeometry, settings: Settings) -> Cost:
    """Emulsion and exposure a mesh asks for with an ordinary coat.

    Emulsion fills the mesh and stands over it; wet = dry / solids. The time is that of the chart's own law.

    Source: Jacobs, working curve; see `exposure.light.dose`.
    """
    over = settings["coat.eom_share"]
    emulsion = (cloth.ink_volume_cm3_per_m2 + over * cloth.fabric_thickness_um) / settings["coat.solids"]
    thicker = cloth.fabric_thickness_um - geometry_of(*_REFERENCE, settings).fabric_thickness_um
    white = stencil_factor(thicker, over * thicker, settings)
    return Cost(emulsion, white, white * settings["exposure.yellow_factor"])


def use_of(count_per_cm: float) -> str:
    """What the trade uses such a count for."""
    count = round(per_inch(count_per_cm))
    return [words for least, words in USES if count >= least][-1]


def choose(
    meshes: Iterable[tuple[str, MeshGeometry]],
    wanted: MeshRequest,
    settings: Settings,
    thermal: Collection[str] = (),
) -> list[Choice]:
    """Every mesh judged, those that serve first, best first under the school.

    Of several that serve alike, the one nearest the trade's usual count for what the plate does comes first; where that is
    not said, opacity takes the coarsest, and a softer hand one so much finer than the coarsest as the house likes, never
    the finest because it is the finest.

    Args:
        thermal: names of those that carry thermal film, judged by its own rule.

    Raises:
        InvalidInput: nothing is asked for, an absurd value, or an unknown school.
    """
    _check(wanted, settings)
    judged = [_judge(name, geometry, wanted, settings, name in thermal) for name, geometry in meshes]
    aim = _aim_per_cm([c for c in judged if c.serves], wanted, settings)
    return sorted(judged, key=lambda c: (not c.serves, round(c.short_by, 6), len(c.departs), *_beside(c, aim)))


def _aim_per_cm(serving: Sequence[Choice], wanted: MeshRequest, settings: Settings) -> float | None:
    """The count to come near to, per cm; None where none serves or the most ink is wanted."""
    if wanted.role:
        return per_cm(CUSTOMS["role"][wanted.role].usual)
    if not serving or wanted.school == "opacity":
        return None
    fewest = min(len(c.departs) for c in serving)
    coarsest = min(c.geometry.count_per_cm for c in serving if len(c.departs) == fewest)
    return float(coarsest * settings["mesh.soft_finer"])


def _beside(choice: Choice, aim_per_cm: float | None) -> tuple[float, float]:
    """How far from the count to come near to, and the more ink the better where two are as far."""
    off = abs(math.log(choice.geometry.count_per_cm / aim_per_cm)) if aim_per_cm else 0.0
    return round(off, 3), -choice.geometry.ink_volume_cm3_per_m2


def by_school(
    meshes: Iterable[tuple[str, MeshGeometry]],
    wanted: MeshRequest,
    settings: Settings,
    thermal: Collection[str] = (),
) -> dict[str, Choice | None]:
    """The first choice of each school, by its name; None where no mesh serves."""
    cloths = list(meshes)
    ranked = {s: choose(cloths, replace(wanted, school=s), settings, thermal) for s in SCHOOLS}
    return {s: choices[0] if choices and choices[0].serves else None for s, choices in ranked.items()}


def _check(wanted: MeshRequest, settings: Settings) -> None:
    if wanted.school not in SCHOOLS:
        raise InvalidInput(f"“{wanted.school}” is not a school: {', '.join(SCHOOLS)}.", "school")
    asked = (wanted.ruling_lpi, wanted.finest_um, wanted.particle_um, wanted.deposit_cm3_per_m2)
    if all(value is None for value in asked) and not wanted.customs:
        raise InvalidInput("Say at least one thing about the print, such as its finest line or its ink.", "ruling_lpi")
    if wanted.ruling_lpi is not None:
        halftone.dot_pitch_um(wanted.ruling_lpi, settings)
    for value, what, field in (
        (wanted.finest_um, "The finest line", "finest_um"),
        (wanted.particle_um, "The largest particle", "particle_um"),
        (wanted.deposit_cm3_per_m2, "The deposit", "deposit_cm3_per_m2"),
    ):
        if value is not None:
            require_positive(value, what, field)


def _judge(name: str, geometry: MeshGeometry, wanted: MeshRequest, settings: Settings, thermal: bool = False) -> Choice:
    floor = halftone.dot_floor_um(geometry.opening_um, geometry.thread_um)
    against: list[str] = []
    speaks_for: list[str] = []
    factor = settings["halftone.thermal_over_ruling" if thermal else "halftone.mesh_over_ruling"]
    dots, asked = None, _asked(geometry, floor, wanted, settings, factor)
    if wanted.ruling_lpi is not None:
        dots = halftone.dot_range(geometry.opening_um, geometry.thread_um, wanted.ruling_lpi, settings)
        _judge_ruling(geometry, wanted.ruling_lpi, dots, settings, factor, against, speaks_for)
    if wanted.finest_um is not None:
        side = speaks_for if floor <= wanted.finest_um else against
        side.append(f"holds lines from {floor:.0f} µm; {wanted.finest_um:g} µm is wanted")
    if wanted.particle_um is not None:
        room = settings["mesh.particle_factor"] * wanted.particle_um
        side = speaks_for if geometry.opening_um >= room else against
        side.append(f"opening {geometry.opening_um:.0f} µm; particles of {wanted.particle_um:g} µm want {room:.0f}")
    if wanted.deposit_cm3_per_m2 is not None:
        side = speaks_for if geometry.ink_volume_cm3_per_m2 >= wanted.deposit_cm3_per_m2 else against
        side.append(
            f"lays {geometry.ink_volume_cm3_per_m2:.0f} cm³/m² by the mesh alone; {wanted.deposit_cm3_per_m2:g} is wanted"
        )
    agrees, departs = judge_customs(geometry.count_per_cm, wanted.customs, settings)
    return Choice(
        name,
        geometry,
        not against,
        1.0 if not against else max(asked),
        tuple(against or speaks_for + agrees),
        tuple(departs),
        floor,
        dots,
        use_of(geometry.count_per_cm),
        None if thermal else cost_of(geometry, settings),
        _warnings(geometry, wanted),
    )


def _warnings(geometry: MeshGeometry, wanted: MeshRequest) -> tuple[str, ...]:
    """What a mesh may lose though it serves. Common practice, no source."""
    usual = float(np.interp(geometry.count_per_cm, list(_USUAL_THREADS), list(_USUAL_THREADS.values())))
    if wanted.ruling_lpi is None or geometry.thread_um >= _THIN * usual:
        return ()
    return ("thin thread: it clears ink well, but dots of 5 to 8 % may not hold on it",)


def _asked(
    geometry: MeshGeometry, floor_um: float, wanted: MeshRequest, settings: Settings, factor: float
) -> list[float]:
    """What is asked of a mesh over what it has, thing by thing; `factor` of the mesh over the ruling."""
    asked = [1.0]
    if wanted.ruling_lpi is not None:
        least = halftone.least_count_per_cm(wanted.ruling_lpi, factor, settings)
        asked.append(least / geometry.count_per_cm)
    if wanted.finest_um is not None:
        asked.append(floor_um / wanted.finest_um)
    if wanted.particle_um is not None:
        asked.append(settings["mesh.particle_factor"] * wanted.particle_um / geometry.opening_um)
    if wanted.deposit_cm3_per_m2 is not None:
        asked.append(wanted.deposit_cm3_per_m2 / geometry.ink_volume_cm3_per_m2)
    return asked


def _judge_ruling(
    geometry: MeshGeometry,
    ruling_lpi: float,
    dots: DotRange | None,
    settings: Settings,
    factor: float,
    against: list[str],
    speaks_for: list[str],
) -> None:
    least = halftone.least_count_per_cm(ruling_lpi, factor, settings)
    ratio = geometry.count_per_cm / (least / factor)
    # The trade rounds: 45 lines × 5 is 225, and a 230 is bought; a hundredth is no thread.
    side = speaks_for if ratio >= factor * 0.995 else against
    side.append(f"{ratio:.1f} × the ruling; the house wants {factor:g}")
    if dots is None:
        against.append("no dot of this ruling spans an opening and its two threads")
    else:
        speaks_for.append(f"holds dots from {dots.smallest_dot * 100:.0f} % to {dots.largest_tone * 100:.0f} %")
