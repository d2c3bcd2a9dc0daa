"""Which screen for which colour of a job: what speaks against each, and the choice for many at once."""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from frimble.core.conclusions import Settings
from frimble.core.film.placement import Art, place_on_frame
from frimble.core.mesh.blemishes import SPOILS, Blemish, in_the_way
from frimble.core.units import show_minutes

if TYPE_CHECKING:
    from ortools.sat.python import cp_model

# What counts as much as a minute of work; a colour without a screen is worse than any choice.
_TENSION_MIN, _CYCLE_MIN, _MATCH_MIN = 20.0, 0.5, 10.0
_NO_SCREEN_MIN = 100_000
_MOST_FOR_ONE = 30
_UNIT = 10


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


@dataclass(frozen=True)
class Suitability:
    """What speaks for and against a screen.

    Attributes:
        limits: why it cannot be taken, empty where it can. cost_min: what it costs, counted in minutes of work.
        reasons: what the cost is made of, in words.
    """

    candidate: Candidate
    limits: tuple[str, ...]
    cost_min: float
    reasons: tuple[str, ...]

    @property
    def fits(self) -> bool:
        return not self.limits


def suitability(want: Want, screen: Candidate, settings: Settings) -> Suitability:
    """What speaks for and against one screen for one colour."""
    kept = screen.has_stencil(want)
    minutes = screen.stencil_min if kept else screen.minutes or 0
    where = "carries the stencil of its film" if kept else screen.where
    costs = [
        (float(minutes), f"{where}, {show_minutes(minutes)} to press" if minutes else where),
        *_tension(screen, settings),
        (screen.cycles * _CYCLE_MIN, f"{screen.cycles} cycles on its mesh"),
    ]
    reasons = tuple(words for _, words in costs)
    return Suitability(screen, tuple(_limits(want, screen, settings)), sum(cost for cost, _ in costs), reasons)


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


def _tension(screen: Candidate, settings: Settings) -> list[tuple[float, str]]:
    best = settings["tension.best_from"]
    if screen.tension_n_per_cm is None:
        return [(_TENSION_MIN * 2, "tension never measured")]
    missing = max(0.0, best - screen.tension_n_per_cm)
    return [(missing * _TENSION_MIN, f"{screen.tension_n_per_cm:.1f} N/cm")]


def ranked(want: Want, screens: Sequence[Candidate], settings: Settings) -> list[Suitability]:
    """Those that fit, the best first; then those that do not, the nearest first."""
    found = [suitability(want, screen, settings) for screen in screens]
    return sorted(found, key=lambda s: (len(s.limits), s.cost_min, s.candidate.code))


@dataclass(frozen=True)
class Assignment:
    """Screens for many colours at once.

    Attributes:
        chosen: code by the key of each colour that gets one. without: reason by key of each that gets none.
        cost_min: of the whole, colours without a screen included. proven: no other costs less.
        ties: by key, other screens that would do as well in its place.
    """

    chosen: Mapping[str, str]
    without: Mapping[str, str]
    cost_min: float
    proven: bool
    ties: Mapping[str, tuple[str, ...]]


def one_by_one(wants: Sequence[Want], screens: Sequence[Candidate], settings: Settings) -> dict[str, str]:
    """Each colour in its turn takes the best screen that is left."""
    taken: dict[str, str] = {}
    for want in wants:
        best = next(
            (s for s in ranked(want, screens, settings) if s.fits and s.candidate.code not in taken.values()), None
        )
        if best:
            taken[want.key] = best.candidate.code
    return taken


def assigned(wants: Sequence[Want], screens: Sequence[Candidate], settings: Settings, seconds: float = 5) -> Assignment:
    """The screens for all colours together that cost least: work, tension, wear, and unlike tensions within a job."""
    from ortools.sat.python import cp_model

    model = cp_model.CpModel()
    fitting = {w.key: [s for s in ranked(w, screens, settings) if s.fits][:_MOST_FOR_ONE] for w in wants}
    greedy = one_by_one(wants, screens, settings)
    takes: dict[tuple[str, str], cp_model.IntVar] = {}
    users: dict[str, list[cp_model.IntVar]] = defaultdict(list)
    cost: list[cp_model.LinearExprT] = []
    for want in wants:
        own = []
        for suits in fitting[want.key]:
            take = model.new_bool_var("")
            model.add_hint(take, greedy.get(want.key) == suits.candidate.code)
            takes[want.key, suits.candidate.code] = take
            users[suits.candidate.code].append(take)
            own.append(take)
            cost.append(round(suits.cost_min * _UNIT) * take)
        model.add_at_most_one(own)
        cost.append(_NO_SCREEN_MIN * _UNIT * (1 - sum(own)))
    for same in users.values():
        model.add_at_most_one(same)
    cost += _unlike_tensions(model, wants, fitting, takes)
    model.minimize(sum(cost))
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 2
    solver.parameters.max_time_in_seconds = seconds
    status = solver.solve(model)
    chosen = {key: code for (key, code), take in takes.items() if solver.boolean_value(take)}
    return Assignment(
        chosen,
        {w.key: _none_fits(w, screens, settings, chosen) for w in wants if w.key not in chosen},
        solver.objective_value / _UNIT,
        status == cp_model.OPTIMAL,
        _ties(wants, fitting, chosen),
    )


def _unlike_tensions(
    model: "cp_model.CpModel",
    wants: Sequence[Want],
    fitting: Mapping[str, list[Suitability]],
    takes: Mapping[tuple[str, str], "cp_model.IntVar"],
) -> "list[cp_model.LinearExprT]":
    """For each job what the spread of its screens' tensions costs."""
    jobs = defaultdict(list)
    for want in wants:
        jobs[want.job].append(want)
    terms: list[cp_model.LinearExprT] = []
    for own in jobs.values():
        tensions = {
            s.candidate.code: round(s.candidate.tension_n_per_cm * _UNIT)
            for w in own
            for s in fitting[w.key]
            if s.candidate.tension_n_per_cm is not None
        }
        if len(own) < 2 or not tensions:
            continue
        low, high = (model.new_int_var(0, max(tensions.values()), "") for _ in range(2))
        for want in own:
            for suits in fitting[want.key]:
                if (tension := tensions.get(suits.candidate.code)) is not None:
                    take = takes[want.key, suits.candidate.code]
                    model.add(low <= tension).only_enforce_if(take)
                    model.add(high >= tension).only_enforce_if(take)
        model.add(low <= high)
        terms.append(round(_MATCH_MIN) * (high - low))
    return terms


def _ties(
    wants: Sequence[Want], fitting: Mapping[str, list[Suitability]], chosen: Mapping[str, str]
) -> dict[str, tuple[str, ...]]:
    ties = {}
    for want in wants:
        mine = next((s for s in fitting[want.key] if s.candidate.code == chosen.get(want.key)), None)
        if mine is None:
            continue
        alike = tuple(
            s.candidate.code
            for s in fitting[want.key]
            if s.candidate.code not in chosen.values()
            and s.cost_min == mine.cost_min
            and s.candidate.tension_n_per_cm == mine.candidate.tension_n_per_cm
        )
        if alike:
            ties[want.key] = alike
    return ties


def _none_fits(want: Want, screens: Sequence[Candidate], settings: Settings, chosen: Mapping[str, str]) -> str:
    """Why a colour gets no screen: the nearest one, and what speaks against it."""
    order = ranked(want, screens, settings)
    if not order:
        return "There is no screen."
    nearest = order[0]
    if nearest.fits:
        return f"All that fit are taken; {nearest.candidate.code} by another colour."
    return f"None fits. The nearest is {nearest.candidate.code}: it {', '.join(nearest.limits)}."
