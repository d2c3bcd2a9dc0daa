"""The colours of a job in their order: what each has, and what it still wants."""

from collections.abc import Iterable
from dataclasses import dataclass

from frimble.core.lifecycle import State
from frimble.core.numbers import counted
from frimble.core.planning.stages.way import can_go_on, has_way, way
from frimble.core.units import show_minutes
from frimble.exposures.chart import queries as chart_queries
from frimble.films.models import Film, FilmProcess
from frimble.jobs.choosing.queries import on_its_way
from frimble.jobs.models import Job, ScreenNeed

# So many printers are named that would take a film.
_NAMED = 2
# With a stencil that only waits for press, or is there.
WITH_STENCIL = (State.READY, State.AT_PRESS, State.PRINTED, State.STRIPPED)


@dataclass(frozen=True)
class ColourRow:
    """One colour: its place in the order, what it wants, its screen, and what is missing."""

    pk: int
    position_words: str
    title: str
    what: str
    code: str
    words: str
    due: bool
    act: str
    ready: bool


def colours_of(job: Job, settings, now, films: Iterable[Film] = ()) -> list[ColourRow]:
    """Every colour of a job, in the order of printing.

    Args:
        films: with their checks, where they were read already.
    """
    frame = "frame__screen__installation__mesh"
    needs = job.needs.select_related("mesh", "film__process", frame, "beside__job", f"beside__{frame}")
    needs, known = list(needs.prefetch_related("ganged__job")), {film.pk: film for film in films}
    for need in needs:
        need.film = known.get(need.film_id, need.film)
    calibrated = {entry.mesh_id for entry in chart_queries.entries_in_force()}
    return [_row(k, need, calibrated, settings, now) for k, need in enumerate(needs, start=1)]


def readiness(rows: list[ColourRow]) -> str:
    """How many of a job's colours are ready, in a sentence; empty for a job of no colours."""
    if not rows:
        return ""
    ready = sum(row.ready for row in rows)
    if ready == len(rows):
        return "Every screen is ready."
    return f"{ready} of {counted(len(rows), 'colour is', 'colours are')} ready."


def _row(k, need: ScreenNeed, calibrated, settings, now) -> ColourRow:
    missing = [] if need.film else ["no film yet"]
    if need.mesh_id not in calibrated:
        missing.append(f"no calibrated time on {need.mesh}: test first")
    check = next(iter(need.film.checks.all()), None) if need.film else None
    if check and check.result and check.found.due:
        missing.append("its film has faults")
    if need.film and (wide := _too_wide(need.film)):
        missing.append(wide)
    words, ready = _screen_words(need.beside or need, settings, now)
    frame = (need.beside or need).frame
    return ColourRow(
        need.pk,
        f"{k}",
        need.colour or counted(max(1, need.number), "screen", "screens"),
        f"{need.mesh.label}, {need.formula}" + (f", {need.film}" if need.film else ""),
        frame.code if frame else "",
        "; ".join([*_shared(need), words, *([] if ready else missing)]) + ".",
        bool(missing) and not ready,
        _act(need),
        ready,
    )


def _too_wide(film) -> str:
    """What its own printer cannot print, and which can; empty where it can, or nobody knows."""
    widest = film.process.widest_mm if film.process else None
    if not widest or not film.width_mm or not film.height_mm or min(film.width_mm, film.height_mm) <= widest:
        return ""
    fit = FilmProcess.objects.filter(widest_mm__gte=min(film.width_mm, film.height_mm)).order_by("widest_mm", "name")
    names = [str(process) for process in fit[:_NAMED]]
    return (
        f"its film of {film.width_mm:.0f} × {film.height_mm:.0f} mm is wider than {film.process} prints, {widest:.0f} mm: "
        + (f"print it by {' or '.join(names)}, or tile it" if names else "tile it, for no printer here takes it")
    )


def _shared(need: ScreenNeed) -> list[str]:
    """With what else it is on one screen."""
    if need.beside:
        return [f"on the screen of {need.beside.key}"]
    ganged = [other.key for other in need.ganged.all()]
    return [f"with {', '.join(ganged)} on its screen"] if ganged else []


def _act(need: ScreenNeed) -> str:
    if need.beside:
        return "Give it a screen of its own"
    return "Swap or let go" if need.frame else "Choose a screen"


def _screen_words(need: ScreenNeed, settings, now) -> tuple[str, bool]:
    if need.frame is None:
        return "no screen chosen", False
    screen = need.frame.screen
    state = State(screen.state)
    if state in WITH_STENCIL:
        return "stencil ready" if state == State.READY else "stencil made", True
    if not has_way(state):
        return "cannot go on: reclaim it, or choose another", False
    minutes = sum(step.minutes for step in way(on_its_way(screen, now), settings))
    failed = "" if can_go_on(state) else "its stencil failed: with the reclaim "
    return f"{failed}{show_minutes(minutes)} of work and drying to press", False
