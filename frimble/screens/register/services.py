"""Meshes coming and going on a frame: registering frames, taking a mesh off, sending out, mounting a new one."""

import re

from django.db import transaction
from django.utils import timezone

from frimble.core import lifecycle
from frimble.core.conclusions import InvalidInput, RuleViolation, require_between
from frimble.people import settings as house_settings
from frimble.screens import ledger
from frimble.screens.models import Frame, MeshInstallation, MeshType, Screen, ScreenEvent

MOST_AT_ONCE = 50
# Why a mesh's life ended; all but "other work" count as an end in the life curves.
ENDINGS = {
    "slack": "too slack", "torn": "torn or holed", "haze": "haze that stays", "cost": "not worth its cost",
    "other": "other work",
}  # fmt: skip
_CODE = re.compile(r"^(?P<head>.*?)(?P<number>\d+)$")


@transaction.atomic
def register_screen(
    code, material, width_mm, height_mm, mesh, line, person, at=None, inner_mm=(None, None), angle_deg=0.0
) -> Screen:
    """A new frame with its first mesh.

    Raises:
        InvalidInput: the code exists, or a size is impossible.
    """
    code = code.strip().upper()
    if Frame.objects.filter(code=code).exists():
        raise InvalidInput(f"{code} exists already. Give this frame another code.", "code")
    check_sizes(width_mm, height_mm, inner_mm, angle_deg)
    at = at or timezone.now()
    frame = Frame.objects.create(
        code=code,
        material=material,
        outer_width_mm=width_mm,
        outer_height_mm=height_mm,
        inner_width_mm=inner_mm[0],
        inner_height_mm=inner_mm[1],
        registered_at=at,
        registered_by=person,
    )
    installation = MeshInstallation.objects.create(
        frame=frame, number=1, mesh=mesh, line=_line(mesh, line), mounted_at=at, angle_deg=angle_deg
    )
    return Screen.objects.create(frame=frame, installation=installation, state=lifecycle.State.BARE)


def _line(mesh: MeshType, line) -> str:
    return lifecycle.Line.THERMAL if mesh.thermal else line or lifecycle.Line.PHOTO


def check_sizes(width_mm, height_mm, inner_mm, angle_deg) -> None:
    """Raises:
    InvalidInput: no frame is so large or small, or no mesh lies so on it.
    """
    settings = house_settings.current()
    for outer, inner, side in ((width_mm, inner_mm[0], "width"), (height_mm, inner_mm[1], "height")):
        require_between(
            outer, settings["frame.least_mm"], settings["frame.most_mm"], "A frame side, in mm,", f"{side}_mm"
        )
        if inner is not None:
            require_between(inner, outer / 3, outer - 4, "The clear inside, in mm,", f"inner_{side}_mm")
    require_between(angle_deg, -45, 45, "The mesh's turn on the frame, in degrees,", "angle_deg")


@transaction.atomic
def register_many(first_code: str, number: int, person, **frame) -> list[Screen]:
    """Several like frames at once, their codes counted on from the first.

    Raises:
        InvalidInput: too many, a first code without a number at its end, or a code that exists: then none is made.
    """
    require_between(number, 1, MOST_AT_ONCE, "How many", "number")
    return [register_screen(code, person=person, **frame) for code in codes_from(first_code, number)]


def codes_from(first_code: str, number: int) -> list[str]:
    """Codes counted on, with as many digits as the first has."""
    code = first_code.strip().upper()
    if number == 1:
        return [code]
    match = _CODE.match(code)
    if not match:
        raise InvalidInput("End the first code with a number, such as Q-065, so that the others can follow.", "code")
    start, digits = int(match["number"]), len(match["number"])
    return [f"{match['head']}{start + k:0{digits}d}" for k in range(number)]


def take_off(code, person, *, ending: str, **kwargs) -> ScreenEvent:
    """The mesh is cut or loosened off: its life ends, the frame stays.

    Raises:
        InvalidInput: an unknown ending. RuleViolation: it is on press, or there is no mesh.
    """
    if ending not in ENDINGS:
        raise InvalidInput(f"Say why: {', '.join(ENDINGS.values())}.", "ending")
    return ledger.record(
        code,
        "take_off",
        person,
        facts={"ending": ending},
        summary=f"Mesh taken off: {ENDINGS[ending]}",
        coat_colour="",
        **kwargs,
    )


def send_away(code, person, **kwargs) -> ScreenEvent:
    """The empty frame goes out for new mesh."""
    return ledger.record(code, "send_away", person, summary="Frame sent out for new mesh", **kwargs)


@transaction.atomic
def mount(code, person, *, mesh, line=None, angle_deg=0.0, in_house=False, revision=None, note="") -> ScreenEvent:
    """New mesh on a frame: a new mesh life, whose tension and cycles begin anew.

    Raises:
        RuleViolation: there is a mesh on it still.
    """
    screen = ledger.lock(code, revision)
    if screen.state not in (lifecycle.State.NO_MESH, lifecycle.State.AWAY):
        raise RuleViolation(f"{screen.code} still carries {screen.mesh}. Take it off first, with why.")
    check_sizes(screen.frame.outer_width_mm, screen.frame.outer_height_mm, (None, None), angle_deg)
    now = timezone.now()
    installation = MeshInstallation.objects.create(
        frame=screen.frame,
        number=screen.installation.number + 1,
        mesh=mesh,
        line=_line(mesh, line),
        mounted_at=now,
        angle_deg=angle_deg,
        in_house=in_house,
    )
    ledger.begin_mesh(screen, installation)
    how = "stretched here" if in_house else "mounted"
    return ledger.record(code, "mounted", person, summary=f"New mesh {mesh} {how}", facts={"mesh": mesh.pk}, note=note)
