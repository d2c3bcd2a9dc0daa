"""What a choice of screens rests on: the screens there are, and what coming jobs want."""

from collections import Counter
from collections.abc import Collection

from django.db.models import Q
from django.utils import timezone

from frimble.coatings.drying import queries as drying_queries
from frimble.core.lifecycle import STATE_WORDS, Line, State
from frimble.core.mesh.blemishes import SPOILS
from frimble.core.planning.choosing import Candidate, Want
from frimble.core.planning.way import OnItsWay, can_go_on, way
from frimble.core.tension.limits import poor_below
from frimble.jobs.models import ScreenNeed
from frimble.screens.models import Blemish, Screen

# Screens of a mesh that are looked at for a choice.
_MOST_OF_A_MESH = 400


def open_needs():
    """What jobs want that are not past their day on press, in the order of their days and colours."""
    coming = Q(job__press_on__gte=timezone.localdate()) | Q(job__press_on__isnull=True)
    found = ScreenNeed.objects.filter(coming).select_related("job", "mesh", "film", "frame")
    return found.order_by("job__press_on", "job__press_time", "job__number", "position", "pk")


def want(need: ScreenNeed) -> Want:
    film = need.film
    size = (film.width_mm, film.height_mm) if film and film.width_mm and film.height_mm else None
    return Want(need.key, need.job.number, str(need.mesh), need.formula, size)


def candidates(needs: Collection[ScreenNeed], settings, now) -> list[Candidate]:
    """The screens that carry a mesh these needs name, with what speaks for and against them.

    What other needs hold is held; what these hold themselves is not.
    """
    meshes = {need.mesh_id for need in needs}
    found = Screen.objects.for_lists().filter(installation__mesh__in=meshes, installation__line=Line.PHOTO)
    screens = list(found.exclude(state__in=(State.NO_MESH, State.AWAY)).order_by("frame__code")[:_MOST_OF_A_MESH])
    installations = [s.installation_id for s in screens]
    coats = drying_queries.coats_on(installations)
    spoilt = Counter(
        Blemish.objects.filter(
            installation__in=installations, kind__in=SPOILS, clears__isnull=True, cleared_by__isnull=True
        ).values_list("installation", flat=True)
    )
    others = open_needs().filter(frame__isnull=False).exclude(pk__in=[need.pk for need in needs])
    held = {need.frame_id: need.key for need in others}
    return [_candidate(s, coats.get(s.installation_id), spoilt, held, settings, now) for s in screens]


def _candidate(screen, coat, spoilt, held, settings, now) -> Candidate:
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
        spoilt[screen.installation_id],
        screen.cycles,
        held.get(screen.frame_id, ""),
    )


def on_its_way(screen, now, layers: int = 1, dry_min: int | None = None, dry_most_min: int | None = None) -> OnItsWay:
    """Where a screen stands, with the layers it still wants."""
    wet = (screen.wet_until - now).total_seconds() / 60 if screen.wet_until else 0
    left = screen.layers - screen.layers_done if screen.state == State.PART_COATED else layers
    return OnItsWay(State(screen.state), max(0, -int(-wet // 1)), left, dry_min, dry_most_min)


def _largest_image_mm(frame, settings) -> tuple[float, float]:
    wide, high = frame.inside_mm(settings)
    return wide - 2 * settings["placement.side_margin_mm"], high - 2 * (
        settings["placement.ink_margin_mm"] - settings["placement.profile_mm"]
    )
