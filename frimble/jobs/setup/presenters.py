"""The steps from an empty room to its first calibrated time, each with what it is for."""

from dataclasses import dataclass

from django.urls import reverse

from frimble.core.numbers import counted
from frimble.jobs.setup.queries import RoomThings, is_calibrated, room_things


@dataclass(frozen=True)
class Step:
    """One thing to enter: its name, why it is wanted, how many there are, where it is entered; whether it can wait."""

    title: str
    why: str
    have: str
    done: bool
    url: str
    button: str
    can_wait: bool = False


def steps() -> list[Step]:
    """All of them, in the order in which one rests on another."""
    things = room_things()
    return [*_room(things), *_screens(things), _first_time()]


def missing() -> list[Step]:
    """What a first calibrated time still waits for; nothing once there is one."""
    if is_calibrated():
        return []
    return [step for step in steps() if not step.done and not step.can_wait]


def _room(things: RoomThings) -> list[Step]:
    return [
        _step("Lamp", "Its kind and its distance from the glass; times are calibrated for each.",
              things.lamps, "lamp", "exposures:add-lamp", "Add a lamp"),
        _step("Film process", "How films are made here: machine, ink, sheet; it says how black the black is.",
              things.processes, "film process", "films:add-process", "Add a film process", many="film processes"),
        _step("Emulsion", "What it is by nature, and which inks it stands.",
              things.emulsions, "emulsion", "coatings:add-emulsion", "Add an emulsion"),
        _step("Open batch", "What stands open now and when it was mixed: its age changes the time.",
              things.batches, "open batch", "coatings:batches", "Write down a batch", many="open batches"),
        _step("Coater", "Its length against the frames, its edge, how full it is filled.",
              things.coaters, "coater", "coatings:coaters", "Write down the coaters", can_wait=True),
    ]  # fmt: skip


def _screens(things: RoomThings) -> list[Step]:
    return [
        _step("Mesh", "By its trade name, as it stands on the roll: 43-80, 110/in, 305/in-34.",
              things.meshes, "mesh", "screens:add-mesh", "Add a mesh", many="meshes"),
        _step("Racks", "Columns, rows and slot size; drawn as you type.",
              things.racks, "rack", "screens:define-rack", "Draw a rack", can_wait=True),
        _step("Screens", "One by one, fifty alike at once, or taken over from the shop's own list.",
              things.screens, "screen", "screens:register", "Register screens"),
        Step("Shop's own list", "A spreadsheet or a text file of screens: each doubtful row is asked.", "", True,
             reverse("exchange:exchange") if things.screens == 0 else "", "Take over a list", can_wait=True),
        Step("Labels", "A code on each frame, so that it is scanned and not typed.",
             f"for {counted(things.screens, 'screen')}" if things.screens else "", True,
             reverse("screens:labels") if things.screens else "", "Print labels", can_wait=True),
    ]  # fmt: skip


def _first_time() -> Step:
    done = is_calibrated()
    why = "Degrease, coat, dry, expose in steps, wash, read: the first screen leads through it."
    url = reverse("screens:search")
    return Step("First calibrated time", why, "calibrated" if done else "", done, url, "Choose the screen to test on")


def _step(title, why, number, one, page, button, many="", can_wait=False) -> Step:
    have = counted(number, one, many) if number else ""
    return Step(title, why, have, bool(number), reverse(page), button, can_wait)
