"""Mesh: reading its many notations, and the geometry of square-opening cloth."""

import re
from dataclasses import dataclass

from frimble.core.conclusions import InvalidInput, Settings, require_positive
from frimble.core.units import per_cm, per_inch

# Usual meshes: threads per inch, threads per cm, thread diameter in µm. From memory, to be confirmed by the shop.
USUAL_MESHES = (
    (24, 10, 260), (38, 15, 200), (54, 21, 140), (61, 24, 120), (83, 32, 100), (86, 34, 100), (92, 36, 90),
    (100, 40, 80), (110, 43, 80), (123, 48, 70), (130, 51, 70), (137, 54, 64), (156, 62, 64), (180, 71, 55),
    (195, 77, 48), (195, 77, 55), (200, 79, 48), (230, 90, 40), (230, 90, 48), (255, 100, 40), (280, 110, 34),
    (305, 120, 34), (330, 130, 34), (355, 140, 31), (380, 150, 31), (420, 165, 27),
)  # fmt: skip

COLOURS = {"W": "white", "Y": "yellow"}


@dataclass(frozen=True)
class MeshSpec:
    """One cloth: threads per cm, thread diameter in µm (None when the label does not say), thread colour."""

    count_per_cm: float
    thread_um: float | None
    colour: str | None = None

    def __str__(self) -> str:
        thread = f"-{self.thread_um:g}" if self.thread_um else "/cm"
        return f"{self.count_per_cm:.0f}{thread}{' ' + self.colour if self.colour else ''}"


@dataclass(frozen=True)
class Ambiguous:
    """The notation fits more than one cloth: ask, do not guess."""

    text: str
    choices: tuple[MeshSpec, ...]
    question: str


@dataclass(frozen=True)
class MeshGeometry:
    """What a cloth's count and thread make of it. Lengths µm, area a fraction, ink volume cm³/m²."""

    count_per_cm: float
    thread_um: float
    pitch_um: float
    opening_um: float
    open_area: float
    fabric_thickness_um: float
    thickness_measured: bool
    opening_measured: bool
    ink_volume_cm3_per_m2: float


def pitch_um(count_per_cm: float) -> float:
    """Distance from thread to thread, µm. Source: ISO 9044, pitch = opening + wire diameter."""
    return 10_000 / require_positive(count_per_cm, "Mesh count", "count")


def mesh_opening_um(count_per_cm: float, thread_um: float) -> float:
    """Clear distance between neighbouring threads, µm.

    Raises:
        InvalidInput: a value is not positive, or the thread fills the pitch.

    Source: ISO 9044, w = p − d.
    """
    require_positive(thread_um, "Thread diameter", "thread_um")
    pitch = pitch_um(count_per_cm)
    if thread_um >= pitch:
        raise InvalidInput(
            f"A thread of {thread_um:g} µm is wider than the pitch of {pitch:.0f} µm at {count_per_cm:g}/cm: "
            "no opening is left. Check count and thread.",
            "thread_um",
        )
    return pitch - thread_um


def open_area(opening_um: float, thread_um: float) -> float:
    """Share of the fabric's area that is opening, a fraction in (0, 1).

    Raises:
        InvalidInput: either length is not positive.

    Source: ISO 9044, percentage open area of square-opening woven cloth, (w / (w + d))².
    """
    require_positive(opening_um, "Mesh opening", "opening_um")
    require_positive(thread_um, "Thread diameter", "thread_um")
    return (opening_um / (opening_um + thread_um)) ** 2


def geometry(
    count_per_cm: float,
    thread_um: float,
    settings: Settings,
    fabric_thickness_um: float | None = None,
    measured_opening_um: float | None = None,
) -> MeshGeometry:
    """Opening, open area, fabric thickness and theoretical ink volume of a cloth.

    Args:
        count_per_cm: threads per cm, > 0.
        thread_um: thread diameter in the fabric, µm, > 0, less than the pitch.
        fabric_thickness_um: measured thickness, µm; estimated from the thread when None.
        measured_opening_um: measured opening, µm, less than the pitch; computed from count and thread when None.

    Raises:
        InvalidInput: a value is absurd, or the thread is wider than the pitch.

    Source: ISO 9044 for the opening and area; ink volume = open area × fabric thickness, µm = cm³/m².
    """
    if count_per_cm > settings["mesh.highest_per_cm"]:
        raise InvalidInput(
            f"{count_per_cm:g} threads per cm is finer than any mesh here "
            f"(up to {settings['mesh.highest_per_cm']:g}/cm). Was it per inch?",
            "count",
        )
    opening = mesh_opening_um(count_per_cm, thread_um)
    pitch = pitch_um(count_per_cm)
    if measured_opening_um is not None:
        opening = require_positive(measured_opening_um, "The measured opening", "measured_opening_um")
        if opening >= pitch:
            raise InvalidInput(
                f"An opening of {opening:g} µm is wider than the pitch of {pitch:.0f} µm.", "measured_opening_um"
            )
    area = open_area(opening, pitch - opening)
    measured = fabric_thickness_um is not None
    if fabric_thickness_um is None:
        thickness = thread_um * settings["mesh.fabric_thickness_factor"]
    else:
        thickness = require_positive(fabric_thickness_um, "Fabric thickness", "fabric_thickness_um")
    return MeshGeometry(
        count_per_cm,
        thread_um,
        pitch,
        opening,
        area,
        thickness,
        measured,
        measured_opening_um is not None,
        area * thickness,
    )


_PAIR = re.compile(r"^(\d+(?:\.\d+)?)\s*[-/]\s*(\d+(?:\.\d+)?)$")
_WITH_UNIT = re.compile(r"^(\d+(?:\.\d+)?)\s*/\s*(cm|in)(?:\s*-\s*(\d+(?:\.\d+)?))?$")
_BARE = re.compile(r"^(\d+)\s*T?$")
_COLOUR = re.compile(r"[\s-]*(white|yellow|W|Y)$", re.IGNORECASE)


def trade_count(count_per_cm: float) -> int:
    """Threads per inch as the trade names a mesh: 110 for 43/cm, 230 for 90/cm; rounded where the list has none.

    From memory: the trade's list, `USUAL_MESHES`; a name and not a conversion, which would give 109 and 229.
    """
    named = next((inch for inch, cm, _ in USUAL_MESHES if cm == count_per_cm), None)
    return named or round(per_inch(count_per_cm))


def assumed_thread_um(count_per_cm: float) -> float:
    """The thread to work with while a label says none: the thinnest usual one of the nearest count, µm.

    From memory: the trade's list; the thinnest of a count is the one sold most.
    """
    nearest = min(USUAL_MESHES, key=lambda usual: (abs(usual[1] - count_per_cm), usual[2]))
    return float(nearest[2]) if nearest[2] < pitch_um(count_per_cm) else pitch_um(count_per_cm) / 3


def parse_mesh(text: str, settings: Settings) -> MeshSpec | Ambiguous:
    """Read a mesh as people write it: `43-80`, `43-80 Y`, `110`, `110T`, `43T`, `156-64`, `156/64`, `43/cm`.

    Returns a MeshSpec, or Ambiguous with the cloths it could be.

    Raises:
        InvalidInput: not a mesh notation; the message says what is accepted.
    """
    raw = str(text).strip()
    colour, body = _split_colour(raw)
    if match := _WITH_UNIT.match(body):
        count, thread = float(match[1]), float(match[3]) if match[3] else None
        return MeshSpec(count if match[2] == "cm" else _listed_per_cm(count, thread), thread, colour)
    if match := _PAIR.match(body):
        return _read_pair(raw, float(match[1]), float(match[2]), colour, settings)
    if match := _BARE.match(body.upper()):
        return _read_bare(raw, int(match[1]), colour, settings)
    raise InvalidInput(
        f"“{raw}” is not a mesh. Write count and thread, such as 43-80 or 156-64 white, or a count with its unit, "
        "such as 43/cm.",
        "mesh",
    )


def _listed_per_cm(count_per_inch: float, thread_um: float | None) -> float:
    """A count per inch as the list has it per cm, so that a label and the list are one mesh: 305/in-34 is 120-34."""
    listed = [cm for inch, cm, um in USUAL_MESHES if inch == count_per_inch and um == thread_um]
    return float(listed[0]) if listed else per_cm(count_per_inch)


def _split_colour(raw: str) -> tuple[str | None, str]:
    match = _COLOUR.search(raw)
    if not match:
        return None, raw
    word = match[1].lower()
    return COLOURS.get(word.upper(), word), raw[: match.start()].strip()


def _read_pair(raw: str, count: float, thread: float, colour: str | None, settings: Settings) -> Ambiguous | MeshSpec:
    """`43-80` is per cm, `156-64` per inch: known pairs decide first, then what leaves an opening."""
    in_cm = any((count, thread) == (cm, um) for _, cm, um in USUAL_MESHES)
    in_inch = [cm for inch, cm, um in USUAL_MESHES if (count, thread) == (inch, um)]
    if in_inch and not in_cm:
        return MeshSpec(in_inch[0], thread, colour)
    if in_cm and not in_inch:
        return MeshSpec(count, thread, colour)
    as_cm = thread < pitch_um(count) and count <= settings["mesh.per_inch_above"]
    as_inch = thread < pitch_um(per_cm(count))
    if as_cm and as_inch:
        return _ask(raw, count, thread, colour)
    if as_inch:
        return MeshSpec(per_cm(count), thread, colour)
    if as_cm:
        return MeshSpec(count, thread, colour)
    raise InvalidInput(
        f"“{raw}”: a thread of {thread:g} µm is wider than the pitch at {count:g}, per cm or per inch. "
        "Check both numbers.",
        "mesh",
    )


def _read_bare(raw: str, count: int, colour: str | None, settings: Settings) -> Ambiguous | MeshSpec:
    """A count alone, with or without the T of an old weave grade, which follows counts of either unit."""
    if count == 0:
        raise InvalidInput("A mesh count must be more than 0.", "mesh")
    if count > settings["mesh.per_inch_above"]:
        return _from_list(per_cm(count), colour)
    known_inch = any(count == inch for inch, _, _ in USUAL_MESHES)
    known_cm = any(count == cm for _, cm, _ in USUAL_MESHES)
    if known_inch == known_cm or count < settings["mesh.ask_below"]:
        return _ask(raw, count, None, colour)
    return _from_list(per_cm(count) if known_inch else count, colour)


def _from_list(count_per_cm: float, colour: str | None) -> MeshSpec:
    """The count as the list has it, with the thread when the list knows only one for it."""
    near = [(cm, um) for inch, cm, um in USUAL_MESHES if abs(count_per_cm - per_cm(inch)) < 0.2 or count_per_cm == cm]
    if not near:
        return MeshSpec(count_per_cm, None, colour)
    threads = {um for _, um in near}
    return MeshSpec(near[0][0], threads.pop() if len(threads) == 1 else None, colour)


def _ask(raw: str, count: float, thread: float | None, colour: str | None) -> Ambiguous:
    choices = tuple(MeshSpec(n, thread, colour) for n in (count, per_cm(count)))
    return Ambiguous(
        raw,
        choices,
        f"Is “{raw}” {count:g} threads per cm ({per_inch(count):.0f} per inch) or {count:g} per inch "
        f"({per_cm(count):.0f} per cm)?",
    )
