"""What is left on a bare mesh, from a photo against light: the rules of `core.mesh.inspection`."""

import time
from pathlib import Path

from frimble.people import settings as house_settings
from frimble.ui.commands import AnswerCommand, corner, two_lengths


class Command(AnswerCommand):
    help = "Find emulsion left, ghosts and holes on a bare mesh by a photo of it against even light."

    def add_arguments(self, parser):
        super().add_arguments(parser)
        parser.add_argument("photo", type=Path)
        parser.add_argument(
            "--corners", type=corner, nargs=4, default=(), metavar="X,Y",
            help="photo pixels of the inside's top left, top right, bottom right, bottom left",
        )  # fmt: skip
        parser.add_argument("--size-mm", type=two_lengths, metavar="W,H", help="the frame's inside; without it shares")

    def answer(self, options):
        from frimble.core.conclusions import require_between
        from frimble.core.mesh.inspection.inspecting import inspect_mesh
        from frimble.core.photo.opening import open_photo

        for side in options["size_mm"] or ():
            require_between(side, 20, 10_000, "The frame's inside, in mm,", "size_mm")
        began = time.perf_counter()
        photo = open_photo(options["photo"].read_bytes(), house_settings.current_or_defaults())
        decode = time.perf_counter() - began
        found = inspect_mesh(photo, options["size_mm"], options["corners"])
        return _plain(found, decode), _sentences(found)


def _plain(found, decode: float) -> dict:
    return {
        "refused": found.refused or None,
        "side": None,
        "seen_share": None if found.refused else 1.0,
        "passed": found.passed,
        "findings": [_finding(f) for f in found.findings],
        "seconds": {"decode": round(decode, 3), "analyse": round(found.seconds, 3)},
    }


def _finding(f) -> dict:
    from frimble.core.mesh.inspection.kinds import FAULTS

    card = FAULTS[f.kind]
    box = {"x_mm": f.x, "y_mm": f.y, "width_mm": f.width, "height_mm": f.height, "value": f.value}
    return {"kind": f.kind, **{k: round(v, 4) for k, v in box.items()}, "why": card.why, "do": card.do}


def _sentences(found) -> str:
    from frimble.core.mesh.inspection.kinds import FAULTS

    if found.refused:
        return f"Refused: {found.refused}"
    unit = "mm" if found.in_mm else "of its sides"
    lines = ["It may be coated." if found.passed else "It may not be coated yet."]
    for f in found.findings:
        card = FAULTS[f.kind]
        lines.append(f"{card.label} at {f.x:.3g}, {f.y:.3g} {unit}: {card.why}. {card.do}")
    return "\n".join(lines)
