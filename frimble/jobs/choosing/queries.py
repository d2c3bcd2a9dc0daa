"""What a choice of screens rests on: the screens there are, and what coming jobs want."""

from collections import defaultdict
from collections.abc import Collection
from dataclasses import replace

from frimble.coatings.drying import queries as drying_queries
from frimble.core.lifecycle import STATE_WORDS, Line, State
from frimble.core.mesh.blemishes import SPOILS
from frimble.core.planning.choosing import Candidate, Want
from frimble.core.planning.stages.way import OnItsWay, can_go_on, way
from frimble.core.tension.limits import poor_below
from frimble.exposures.models import Exposure
from frimble.jobs.models import Job, ScreenNeed
from frimble.screens.models import Blemish, Screen

# Screens of a mesh that are looked at for a choice.
_MOST_OF_A_MESH = 400
# A stencil that stands ready, or was kept when its ink was taken out.
KEPT = (State.READY, State.STRIPPED)


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


def candidates(needs: Collection[ScreenNeed], settings, now) -> list[Candidate]:
    """The screens that carry a mesh these needs name, with what speaks for and against them.

    What other needs hold is held; what these hold themselves is not.
    """
    meshes = {need.mesh_id for need in needs}
    found = Screen.objects.for_lists().filter(installation__mesh__in=meshes, installation__line=Line.PHOTO)
    screens = list(found.exclude(state__in=(State.NO_MESH, State.AWAY)).order_by("frame__code")[:_MOST_OF_A_MESH])
    installations = [s.installation_id for s in screens]
    coats = drying_queries.coats_on(installations)
    marks = defaultdict(list)
    for mark in Blemish.objects.filter(
        installation__in=installations, kind__in=SPOILS, clears__isnull=True, cleared_by__isnull=True
    ):
        marks[mark.installation_id].append(mark.as_core())
    stencils = _stencils([s for s in screens if s.state in KEPT])
    others = open_needs().filter(frame__isnull=False).exclude(pk__in=[need.pk for need in needs])
    held = {need.frame_id: need.key for need in others}
    found = [_candidate(s, coats.get(s.installation_id), held, settings, now) for s in screens]
    return [
        replace(c, marks=tuple(marks[s.installation_id]), stencil_of=stencils.get(s.installation_id, ""))
        for c, s in zip(found, screens, strict=True)
    ]


def _stencils(screens) -> dict[int, str]:
    """The film of the stencil that each of these carries, by installation: that of its newest cycle's light."""
    light = Exposure.objects.filter(
        event__installation__in=[s.installation_id for s in screens], event__replaced_by__isnull=True
    )
    newest: dict[int, tuple[int, int | None]] = {}
    rows = light.order_by("event__at", "pk").values_list("event__installation", "event__cycle", "film")
    for installation, cycle, film in rows:
        # Light that was given again names no film.
        if film or newest.get(installation, (None,))[0] != cycle:
            newest[installation] = cycle, film
    return {installation: str(film) for installation, (_, film) in newest.items() if film}


def _candidate(screen, coat, held, settings, now) -> Candidate:
    unfit = screen.is_test or not can_go_on(screen.state)
    where = "carries a step test" if screen.is_test else STATE_WORDS[screen.state]
    return Candidate(
        screen.code,
        str(screen.mesh),
        None if unfit else sum(step.minutes for step in way(on_its_way(screen, now), settings)),
        f"is {where}, to be reclaimed first" if unfit else where,
        coat.formula if coat else "",
        screen.tension_n_per_cm,
        poor_below(screen.frame.material, settings),
        _largest_image_mm(screen.frame, settings),
        (screen.frame.outer_width_mm, screen.frame.outer_height_mm),
        cycles=screen.cycles,
        held_for=held.get(screen.frame_id, ""),
        stencil_min=0 if screen.state == State.READY else int(settings["day.finish_min"]),
    )


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
