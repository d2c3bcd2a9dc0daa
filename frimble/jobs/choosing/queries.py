"""What a choice of screens rests on: the screens there are, and what coming jobs want."""

from collections import defaultdict
from collections.abc import Collection
from dataclasses import dataclass
from functools import cache

from frimble.coatings.drying import queries as drying_queries
from frimble.core.lifecycle import STATE_WORDS, Line, State
from frimble.core.mesh import blemishes as marked
from frimble.core.planning.choosing.suitability import Candidate, Want
from frimble.core.planning.stages.way import OnItsWay, can_go_on, way
from frimble.core.tension.limits import poor_below
from frimble.exposures.models import Exposure
from frimble.jobs.models import Job, ScreenNeed
from frimble.screens.models import Blemish, Frame, Screen

# A stencil that stands ready, or was kept when its ink was taken out.
KEPT = (State.READY, State.STRIPPED)
_UNCOATED = (State.BARE, State.DEGREASED)
_SIZES = ("outer_width_mm", "outer_height_mm", "inner_width_mm", "inner_height_mm")
_COLUMNS = (
    "installation_id", "frame_id", "frame__code", "frame__material", *(f"frame__{side}" for side in _SIZES),
    "installation__mesh_id", "state", "is_test", "wet_until", "layers", "layers_done", "tension_n_per_cm", "cycles",
)  # fmt: skip


def open_needs():
    """What jobs want that are to be printed, in the order of their days and colours."""
    coming = Job.objects.to_be_printed()
    found = ScreenNeed.objects.filter(job__in=coming).select_related("job", "mesh", "film", "frame")
    found = found.prefetch_related("ganged__film")
    return found.order_by("job__press_on", "job__press_time", "job__number", "position", "pk")


def want(need: ScreenNeed) -> Want:
    """What a colour asks of its screen, with the colours that are ganged up on it."""
    films = [one.film for one in (need, *need.ganged.all())]
    sizes = [size_mm(film) for film in films]
    known = tuple(size for size in sizes if size is not None)
    alone = len(films) == 1 and bool(known)
    return Want(
        need.key,
        need.job.number,
        str(need.mesh),
        need.formula,
        known if len(known) == len(sizes) else (),
        need.film.centre_mm if alone else None,
        str(need.film.pk) if len(films) == 1 and need.film else "",
    )


def size_mm(film) -> tuple[float, float] | None:
    """Width and height of a film as it lies; None where nobody knows them."""
    if film is None or not film.width_mm or not film.height_mm:
        return None
    return (film.height_mm, film.width_mm) if film.turned else (film.width_mm, film.height_mm)


def candidates(needs: Collection[ScreenNeed], settings, now, codes: Collection[str] = ()) -> list[Candidate]:
    """The screens that carry a mesh these needs name, or of them those of some codes, with what speaks for and against.

    What other needs hold is held; what these hold themselves is not. They may be thousands: they are read without models.
    """
    found = Screen.objects.filter(
        installation__mesh__in={need.mesh_id for need in needs}, installation__line=Line.PHOTO
    )
    if codes:
        found = found.filter(frame__code__in=codes)
    rows = found.exclude(state__in=(State.NO_MESH, State.AWAY)).order_by("frame__code")
    screens = list(rows.values_list(*_COLUMNS, named=True))
    others = open_needs().filter(frame__isnull=False).exclude(pk__in=[need.pk for need in needs])
    known = _Known(
        {need.mesh_id: str(need.mesh) for need in needs},
        drying_queries.coats_on([s.installation_id for s in screens if s.state not in _UNCOATED]),
        _marks(found),
        _stencils([s.installation_id for s in screens if s.state in KEPT]),
        {need.frame_id: need.key for need in others},
    )
    worked_out = _WorkedOut(settings)
    return [_candidate(screen, known, worked_out, now) for screen in screens]


@dataclass(frozen=True)
class _Known:
    """Beside the screens' own rows: names of meshes; by installation coats, marks and stencils; by frame who holds it."""

    meshes: dict[int, str]
    coats: dict[int, drying_queries.CoatOn]
    marks: dict[int, list[marked.Blemish]]
    stencils: dict[int, str]
    held: dict[int, str]


class _WorkedOut:
    """What is the same for many screens, worked out once: by a frame's sides, its material, and where a screen stands."""

    def __init__(self, settings) -> None:
        self.most_mm = cache(lambda *sides: _largest_image_mm(Frame(**dict(zip(_SIZES, sides, strict=True))), settings))
        self.poor_below = cache(lambda material: poor_below(material, settings))
        self.minutes = cache(lambda going: sum(step.minutes for step in way(going, settings)))
        self.finish_min = int(settings["day.finish_min"])


def _candidate(screen, known: _Known, worked_out: _WorkedOut, now) -> Candidate:
    on = screen.installation_id
    return Candidate(
        screen.frame__code,
        known.meshes[screen.installation__mesh_id],
        None if _is_out(screen) else worked_out.minutes(on_its_way(screen, now)),
        _where(screen),
        known.coats[on].formula if on in known.coats else "",
        screen.tension_n_per_cm,
        worked_out.poor_below(screen.frame__material),
        worked_out.most_mm(*(getattr(screen, f"frame__{side}") for side in _SIZES)),
        (screen.frame__outer_width_mm, screen.frame__outer_height_mm),
        marks=tuple(known.marks.get(on, ())),
        cycles=screen.cycles,
        held_for=known.held.get(screen.frame_id, ""),
        stencil_of=known.stencils.get(on, ""),
        stencil_min=0 if screen.state == State.READY else worked_out.finish_min,
    )


def _is_out(screen) -> bool:
    return screen.is_test or not can_go_on(screen.state)


def _where(screen) -> str:
    where = "carries a step test" if screen.is_test else STATE_WORDS[screen.state]
    return f"is {where}, to be reclaimed first" if _is_out(screen) else where


def _marks(screens) -> dict[int, list[marked.Blemish]]:
    """What would print through on these, by installation."""
    found = defaultdict(list)
    for mark in Blemish.objects.filter(
        installation__in=screens.values("installation"),
        kind__in=marked.SPOILS,
        clears__isnull=True,
        cleared_by__isnull=True,
    ):
        found[mark.installation_id].append(mark.as_core())
    return found


def _stencils(installations: Collection[int]) -> dict[int, str]:
    """The film of the stencil that each of these carries, by installation: that of its newest cycle's light."""
    light = Exposure.objects.filter(event__installation__in=installations, event__replaced_by__isnull=True)
    newest: dict[int, tuple[int, int | None]] = {}
    rows = light.order_by("event__at", "pk").values_list("event__installation", "event__cycle", "film")
    for installation, cycle, film in rows:
        # Light that was given again names no film.
        if film or newest.get(installation, (None,))[0] != cycle:
            newest[installation] = cycle, film
    return {installation: str(film) for installation, (_, film) in newest.items() if film}


def on_its_way(screen, now, layers: int = 1, dry_min: int | None = None, dry_most_min: int | None = None) -> OnItsWay:
    """Where a screen stands, with the layers it still wants."""
    wet = (screen.wet_until - now).total_seconds() / 60 if screen.wet_until else 0
    left = screen.layers - screen.layers_done if screen.state == State.PART_COATED else layers
    return OnItsWay(State(screen.state), max(0, -int(-wet // 1)), left, dry_min, dry_most_min)


def _largest_image_mm(frame, settings) -> tuple[float, float]:
    wide, high = frame.inside_mm(settings)
    # The squeegee goes over the image and into the frame.
    beside = max(settings["placement.side_margin_mm"], settings["placement.squeegee_over_mm"])
    return wide - 2 * beside, high - 2 * (settings["placement.ink_margin_mm"] - settings["placement.profile_mm"])
