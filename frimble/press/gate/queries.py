"""What is on record of a screen that goes to press."""

from django.db.models import Q

from frimble.coatings.coats.queries import current_coat
from frimble.core.emulsion.batch import STANDS
from frimble.core.lifecycle import Line
from frimble.core.press.gate import GateItem, ScreenBeforePress, gate
from frimble.core.stencil.hardening import advise
from frimble.core.tension.limits import poor_below
from frimble.exposures.models import Exposure
from frimble.films.models import ScanCheck
from frimble.screens.models import ScreenEvent
from frimble.stencils.finishing.queries import stencil_for_run
from frimble.stencils.models import StencilPhoto


def checks(screen, settings, now) -> tuple[GateItem, ...]:
    """The gate's checks of a screen as it stands."""
    return gate(_facts(screen, settings, now), settings)


def _facts(screen, settings, now) -> ScreenBeforePress:
    coat = current_coat(screen)
    exposure = _exposure(screen)
    film = exposure.film if exposure else None
    looked, printed = _last(screen, "inspect"), _last(screen, "from_press")
    measured = screen.tension_at
    return ScreenBeforePress(
        photo_stencil=screen.installation.line == Line.PHOTO,
        calibrated=bool(exposure and exposure.entry_id),
        film=_verdict(film),
        inspected=bool(looked and (printed is None or looked.at > printed.at)),
        wet_min=max(0.0, (screen.wet_until - now).total_seconds() / 60) if screen.wet_until else 0.0,
        kept_pinholes=_mended(screen, looked) if looked and printed and printed.at > looked.at else 0,
        tension=screen.tension_n_per_cm,
        tension_days=(now - measured).total_seconds() / 86400 if measured else None,
        slack_below=poor_below(screen.frame.material, settings),
        ink=(film.ink if film else "") or (coat.ink if coat else ""),
        unhardened=_unhardened(screen, settings),
        resists=STANDS[coat.batch.emulsion.resists] if coat else (),
    )


def sheet_of(screen) -> StencilPhoto | None:
    """The newest sheet of this stencil that tells anything, with what was decided on it."""
    sheets = StencilPhoto.objects.that_tell().filter(installation=screen.installation_id, cycle__closed_at=None)
    return sheets.prefetch_related("decisions").order_by("-at", "-pk").first()


def _mended(screen, looked: ScreenEvent) -> int:
    """Places blocked on this stencil: by the inspection's own count, or by the map of its photo, whichever is more."""
    sheet = sheet_of(screen)
    return max(looked.facts.get("pinholes", 0), sheet.number_mended if sheet else 0)


def _unhardened(screen, settings) -> bool:
    """Whether its ink asks for a hardened stencil and this one is not."""
    if screen.installation.line != Line.PHOTO:
        return False
    return advise(stencil_for_run(screen, "", None), settings).verdict.due


def _exposure(screen) -> Exposure | None:
    given = Exposure.objects.filter(event__cycle__installation=screen.installation_id, event__cycle__closed_at=None)
    return given.filter(event__replaced_by=None).select_related("film").order_by("-pk").first()


def _last(screen, kind: str) -> ScreenEvent | None:
    """The newest record of a kind in the open cycle."""
    in_cycle = Q(cycle__installation=screen.installation_id, cycle__closed_at=None)
    return ScreenEvent.objects.standing().filter(in_cycle, kind=kind).order_by("-at", "-pk").first()


def _verdict(film):
    """What the last finished check of a film came to; None where there was none."""
    done = ScanCheck.objects.filter(film=film, state=ScanCheck.State.DONE) if film else ScanCheck.objects.none()
    check = done.order_by("-at", "-pk").first()
    return check.found if check else None
