"""What speaks for and against each screen for one colour of a job."""

from collections import defaultdict
from collections.abc import Hashable, Iterator, Sequence
from dataclasses import dataclass

from frimble.core.conclusions import Settings
from frimble.core.film.placement import Art, place_on_frame
from frimble.core.mesh.blemishes import SPOILS, Blemish, in_the_way
from frimble.core.units import show_minutes

# What counts as much as a minute of work.
_TENSION_MIN, _CYCLE_MIN = 20.0, 0.5
_UNKNOWN_N_PER_CM = 2.0


@dataclass(frozen=True)
class Want:
    """A screen that a job wants.

    Attributes:
        key: names it. job: those of one job want like tensions. mesh: its name. formula: of the coat.
        images_mm: width and height of each image on it as it lies; none where one is not known. centre_mm: of the middle of
            a single one from the frame's, right and down; None where no place is kept. film: names it, empty for none.
    """

    key: str
    job: str
    mesh: str
    formula: str
    images_mm: tuple[tuple[float, float], ...] = ()
    centre_mm: tuple[float, float] | None = None
    film: str = ""


@dataclass(frozen=True)
class Candidate:
    """A screen that might be taken.

    Attributes:
        code: its own. mesh: its name. minutes: of work and drying until it is ready for press, None where it must be
            reclaimed first or is out. where: what it waits for, in words. formula: of the coat on it, empty for none.
        tension_n_per_cm: None where never measured. poor_below: a frame of its kind is slack below, N/cm.
        image_most_mm: the largest image it takes. frame_mm: outer size. marks: places on its mesh. cycles: of its mesh.
        held_for: what else it is held for, empty for nothing. stencil_of: the film of the stencil it carries, empty for
            none; stencil_min: minutes until that stencil is ready for press.
    """

    code: str
    mesh: str
    minutes: int | None
    where: str = ""
    formula: str = ""
    tension_n_per_cm: float | None = None
    poor_below: float = 0.0
    image_most_mm: tuple[float, float] = (0.0, 0.0)
    frame_mm: tuple[float, float] = (0.0, 0.0)
    marks: tuple[Blemish, ...] = ()
    cycles: int = 0
    held_for: str = ""
    stencil_of: str = ""
    stencil_min: int = 0

    def has_stencil(self, want: Want) -> bool:
        """It carries the very stencil that is wanted."""
        return bool(want.film) and self.stencil_of == want.film

    @property
    def kind(self) -> Hashable:
        """All that `_limits` goes by: the same limits hold for screens that are alike in it."""
        tension = self.tension_n_per_cm
        slack = tension if tension is not None and tension < self.poor_below else None
        out = self.where if self.minutes is None else None
        made = (self.mesh, self.image_most_mm, self.frame_mm, self.marks)
        return *made, out, self.formula, slack, self.poor_below, self.held_for, self.stencil_of

    @property
    def cost_of(self) -> Hashable:
        """All that `_judged` goes by, whether its stencil is wanted or not."""
        return self.minutes, self.stencil_min, self.tension_n_per_cm, self.cycles


@dataclass(frozen=True)
class Suitability:
    """What speaks for and against a screen.

    Attributes:
        limits: why it cannot be taken, empty where it can. cost_min: what it costs, counted in minutes of work.
        kept: it carries the very stencil that is wanted.
    """

    candidate: Candidate
    limits: tuple[str, ...]
    cost_min: float
    kept: bool = False

    @property
    def fits(self) -> bool:
        return not self.limits

    @property
    def reasons(self) -> tuple[str, ...]:
        """What the cost is made of, in words."""
        screen, minutes = self.candidate, _minutes(self.candidate, self.kept)
        where = "carries the stencil of its film" if self.kept else screen.where
        tension = screen.tension_n_per_cm
        return (
            f"{where}, {show_minutes(minutes)} to press" if minutes else where,
            "tension never measured" if tension is None else f"{tension:.1f} N/cm",
            f"{screen.cycles} cycles on its mesh",
        )


def suitability(want: Want, screen: Candidate, settings: Settings) -> Suitability:
    """What speaks for and against one screen for one colour."""
    limits = tuple(_limits(want, screen, settings))
    return _judged(screen, limits, settings["tension.best_from"], screen.has_stencil(want))


def _judged(screen: Candidate, limits: tuple[str, ...], best_n_per_cm: float, kept: bool) -> Suitability:
    tension = screen.tension_n_per_cm
    # One that was never measured may be slack.
    missing = _UNKNOWN_N_PER_CM if tension is None else max(0.0, best_n_per_cm - tension)
    cost_min = _minutes(screen, kept) + missing * _TENSION_MIN + screen.cycles * _CYCLE_MIN
    return Suitability(screen, limits, cost_min, kept)


def _minutes(screen: Candidate, kept: bool) -> int:
    """Until it is ready for press."""
    return screen.stencil_min if kept else screen.minutes or 0


def _limits(want: Want, screen: Candidate, settings: Settings) -> list[str]:
    limits = []
    if screen.held_for:
        limits.append(f"held for {screen.held_for}")
    if screen.mesh != want.mesh:
        limits.append(f"carries {screen.mesh}")
    if not screen.has_stencil(want):
        if screen.minutes is None:
            limits.append(screen.where)
        if screen.formula and screen.formula != want.formula:
            limits.append(f"is coated {screen.formula}")
    if want.images_mm and ganged_mm(want.images_mm, screen.image_most_mm, settings["placement.gap_mm"]) is None:
        wide, high = screen.image_most_mm
        limits.append(
            f"takes {'an image' if len(want.images_mm) == 1 else 'images'} of {wide:.0f} × {high:.0f} mm at most"
        )
    if screen.tension_n_per_cm is not None and screen.tension_n_per_cm < screen.poor_below:
        limits.append(f"is slack: {screen.tension_n_per_cm:.1f} N/cm, {screen.poor_below:g} at least")
    if spoilt := _spoilt(want, screen):
        under = " under the image" if want.centre_mm else ""
        places = "a place that prints" if spoilt == 1 else f"{spoilt} places that print"
        limits.append(f"has {places} through{under}")
    return limits


def _spoilt(want: Want, screen: Candidate) -> int:
    """Places that would spoil the image; all on the mesh where nobody knows where it lies."""
    spoils = [mark for mark in screen.marks if mark.kind in SPOILS]
    if want.centre_mm is None:
        return len(spoils)
    box = place_on_frame(Art("image", *want.images_mm[0], centre_mm=want.centre_mm), screen.frame_mm)
    return len(in_the_way(spoils, [box]))


def ganged_mm(
    sizes_mm: Sequence[tuple[float, float]], most_mm: tuple[float, float], gap_mm: float
) -> tuple[float, float] | None:
    """Width and height of images on one screen, beside or under one another; None where neither goes.

    Args:
        sizes_mm: of each image. most_mm: the largest that a screen takes. gap_mm: between two.
    """
    widths, heights = zip(*sizes_mm, strict=True)
    gaps = gap_mm * (len(sizes_mm) - 1)
    ways = ((sum(widths) + gaps, max(heights)), (max(widths), sum(heights) + gaps))
    return next((way for way in ways if way[0] <= most_mm[0] and way[1] <= most_mm[1]), None)


# Screens that do as well as each other for whichever colour, by code.
Alike = list[Suitability]


class Candidates:
    """Screens that many colours choose among.

    Thousands stand in a large room, of few kinds: what speaks against a screen is asked once of each kind.
    """

    def __init__(self, screens: Sequence[Candidate], settings: Settings):
        self.settings = settings
        self.best_n_per_cm = settings["tension.best_from"]
        kinds: dict[Hashable, dict[Hashable, Alike]] = defaultdict(lambda: defaultdict(list))
        for screen in sorted(screens, key=lambda screen: screen.code):
            kinds[screen.kind][screen.cost_of].append(self._judged(screen))
        self.kinds = [list(kind.values()) for kind in kinds.values()]

    def _judged(self, screen: Candidate, limits: tuple[str, ...] = (), kept: bool = False) -> Suitability:
        return _judged(screen, limits, self.best_n_per_cm, kept)

    def fitting(self, want: Want) -> list[Suitability]:
        """Those that fit, the best first."""
        return sorted((suits for alike in self.alike_fitting(want) for suits in alike), key=_by_cost)

    def alike_fitting(self, want: Want) -> list[Alike]:
        """Those that fit, put together where they are alike, the best first."""
        found: list[Alike] = []
        for kind in self.kinds:
            one = kind[0][0].candidate
            if one.mesh != want.mesh or _limits(want, one, self.settings):
                continue
            if one.has_stencil(want):
                kind = [[self._judged(suits.candidate, kept=True) for suits in alike] for alike in kind]
            found += kind
        return sorted(found, key=lambda alike: _by_cost(alike[0]))

    def others(self, want: Want) -> list[Suitability]:
        """Those that do not fit, the nearest first."""
        return sorted((s for kind in self._misfits(want) for s in kind), key=_by_limits)

    def nearest(self, want: Want) -> Suitability | None:
        """The first of those that do not fit."""
        return min((min(kind, key=_by_cost) for kind in self._misfits(want)), key=_by_limits, default=None)

    def _misfits(self, want: Want) -> Iterator[Iterator[Suitability]]:
        """By kind."""
        for kind in self.kinds:
            one = kind[0][0].candidate
            if limits := tuple(_limits(want, one, self.settings)):
                kept = one.has_stencil(want)
                yield (self._judged(suits.candidate, limits, kept) for alike in kind for suits in alike)


def _by_limits(found: Suitability) -> tuple[int, float, str]:
    return len(found.limits), *_by_cost(found)


def _by_cost(found: Suitability) -> tuple[float, str]:
    return found.cost_min, found.candidate.code
