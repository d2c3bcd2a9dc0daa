"""What a film check reports: findings with place, size, why it matters and what to do; and the limits it goes by."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from frimble.core.conclusions import Settings, require_between
from frimble.core.film.kinds import KINDS
from frimble.core.mesh import halftone
from frimble.core.mesh.geometry import USUAL_MESHES, MeshGeometry, geometry
from frimble.core.verdicts import FilmVerdict

# What is within this share of a limit is taken as at it: the measure itself is a few per cent off.
NEAR_LIMIT = 0.88


@dataclass(frozen=True)
class Limits:
    """What the film is held against.

    Attributes:
        least_density: black above clear film. line_mm: thinnest line or gap, pinhole_mm: smallest pinhole that counts.
        dot_mm: smallest dot or hole that holds. sans_pt, serif_pt: smallest type without and with serifs, points.
        mesh: words for the mesh the limits come from, empty when they were given. floors: the house's thinnest line and the
            mesh's own, of which the larger counts; empty where there is no mesh.
    """

    least_density: float
    line_mm: float
    pinhole_mm: float
    dot_mm: float
    sans_pt: float
    serif_pt: float
    mesh: str = ""
    floors: str = ""


def limits_for(settings: Settings, mesh: MeshGeometry | None = None, name: str = "") -> Limits:
    """Limits of the house, or of a mesh: its floor of one opening and two threads for lines and dots."""
    floor = halftone.dot_floor_um(mesh.opening_um, mesh.thread_um) / 1000 if mesh else None
    line = max(floor, settings["film.least_line_mm"]) if floor else settings["film.least_line_mm"]
    return Limits(
        settings["film.least_core_density"],
        line,
        settings["film.least_pinhole_mm"],
        floor or finest_floor_mm(settings),
        settings["film.least_sans_pt"],
        settings["film.least_serif_pt"],
        name,
        _floors(floor, settings) if floor else "",
    )


def _floors(mesh_mm: float, settings: Settings) -> str:
    return f"the house asks {settings['film.least_line_mm']:.2f} mm, the mesh's own floor is {mesh_mm:.2f} mm"


def finest_floor_mm(settings: Settings) -> float:
    """The smallest dot any usual mesh holds, mm: below it a dot is lost on all of them."""
    cloths = (geometry(cm, um, settings) for _, cm, um in USUAL_MESHES)
    return min(halftone.dot_floor_um(c.opening_um, c.thread_um) for c in cloths) / 1000


def checked_limits(limits: Limits) -> Limits:
    """The limits again when they can be believed.

    Raises:
        InvalidInput: a limit is absurd.
    """
    require_between(limits.least_density, 0.3, 5, "The least density", "min_density")
    require_between(limits.line_mm, 0.01, 5, "The thinnest line, in mm,", "min_line_mm")
    require_between(limits.pinhole_mm, 0.01, 5, "The smallest pinhole, in mm,", "min_pinhole_mm")
    return limits


@dataclass(frozen=True)
class Finding:
    """One finding: its box in mm from the scan's top left, its value in the kind's unit, and what it means."""

    kind: str
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float
    value: float
    why: str = ""
    remedy: str = ""

    @property
    def label(self) -> str:
        return KINDS[self.kind].label

    @property
    def unit(self) -> str:
        return KINDS[self.kind].unit

    @property
    def harmless(self) -> bool:
        return KINDS[self.kind].though_passed is not None


@dataclass(frozen=True)
class Tint:
    """A halftone patch: box in mm, ruling in lines per inch, angle in degrees, coverage, smallest dot or hole in mm."""

    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float
    ruling_lpi: float
    angle_deg: float
    coverage: float
    smallest_mm: float
    holes: bool


@dataclass(frozen=True)
class FilmCheck:
    """All that a check concludes. Densities are above no film, None where they are not known; `reason` says in a sentence
    why it passed or not."""

    dmax: float | None
    dmax_is_lower_bound: bool
    dmin: float | None
    findings: tuple[Finding, ...]
    tints: tuple[Tint, ...]
    skew_deg: float
    verdict: FilmVerdict
    reason: str
    notes: tuple[str, ...] = ()
    seconds: Mapping[str, float] = field(default_factory=dict)

    @property
    def passed(self) -> bool:
        """Whether it may be used as far as the scan can tell; what was not measured never passes."""
        return self.verdict == FilmVerdict.PASSED


def pixel_box(x0: float, y0: float, x1: float, y1: float, pixel_mm: float) -> tuple[float, float, float, float]:
    """A box in pixels as (x, y, width, height) in mm."""
    return x0 * pixel_mm, y0 * pixel_mm, (x1 - x0) * pixel_mm, (y1 - y0) * pixel_mm
