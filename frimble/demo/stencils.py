"""The demo's stencil on the light table: the pennant's film, with a blocked line, two pinholes and a chip."""

from datetime import timedelta

from django.core.files.uploadedfile import SimpleUploadedFile

from frimble.films.models import ScanCheck
from frimble.people.moments import happened_at
from frimble.press.feedback import services as feedback_services
from frimble.screens.models import Screen
from frimble.stencils.inspecting.photo import services as photo_services

_CODE, _PRINTS = "Q-028", "Q-007"


def lay_out_stencils(now, technician, printer) -> None:
    """A photo of a washed stencil, inspected; and what the press said of one that prints."""
    screens = Screen.objects.for_lists()
    washed = screens.get(frame__code=_CODE)
    check = ScanCheck.objects.select_related("film").filter(film__name="Lugger pennant").latest("pk")
    with happened_at(now - timedelta(minutes=12)):
        sent = SimpleUploadedFile("stencil.jpg", _photo(check))
        kept = photo_services.send(washed, technician, photo=sent, scan=check, want_mm=0.3, pinhole_mm=0.3)
        photo_services.compare.call(kept.pk)
    with happened_at(now - timedelta(minutes=95)):
        feedback_services.record(
            screens.get(frame__code=_PRINTS), printer, opacity="opaque", sharpness="sharp", fit="fits", hold="held",
            impressions=180, passes=2, flashes=1,
        )  # fmt: skip


def _photo(check: ScanCheck) -> bytes:
    """The simulated camera's photo of the stencil that this film's scan would give."""
    from frimble.core.simulation.stencil_photo import Fault, Shot, make_stencil, photograph
    from frimble.people import settings as house_settings

    black, dpi = photo_services.film_of(check, house_settings.current())
    faults = (
        Fault("blocked", 163, 80.5, 6.0),
        Fault("pinhole", 34, 100, 0.7),
        Fault("pinhole", 172, 112, 0.9),
        Fault("breakdown", 122.4, 48, 2.6),
    )
    stencil = make_stencil(black, dpi / 25.4, faults)
    shot = Shot(
        turn_deg=4, tilt_deg=5, tilt_towards_deg=40, mirrored=True, fills=0.9, mesh_per_cm=43, size=(2600, 1950)
    )
    return photograph(stencil, shot, seed=28)
