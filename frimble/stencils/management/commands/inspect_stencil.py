"""Inspect a finished stencil by a photo against its film: the rules of `core.stencil.inspection`."""

import time
from pathlib import Path

from frimble.people import settings as house_settings
from frimble.ui.commands import AnswerCommand, corner


class Command(AnswerCommand):
    help = "Compare a photo of a finished stencil with the film it was made from."

    def add_arguments(self, parser):
        super().add_arguments(parser)
        parser.add_argument("photo", type=Path)
        parser.add_argument("--film", type=Path, required=True, help="the film's raster, black where it prints")
        parser.add_argument("--dpi", type=float, required=True, help="of the film's raster")
        parser.add_argument("--want-mm", type=float, default=0.3, help="finer detail is not judged")
        parser.add_argument("--pinhole-mm", type=float, default=0.3, help="smaller holes are none")
        parser.add_argument(
            "--corners", type=corner, nargs=4, default=(), metavar="X,Y",
            help="photo pixels of the film's top left, top right, bottom right, bottom left",
        )  # fmt: skip

    def answer(self, options):
        found, decode = _inspected(options)
        return _plain(found, decode), _sentences(found)


def _inspected(options):
    import numpy as np

    from frimble.core.conclusions import require_between
    from frimble.core.film.scan.opening import open_scan
    from frimble.core.photo.opening import open_photo
    from frimble.core.stencil.inspection.comparing import Limits
    from frimble.core.stencil.inspection.inspecting import inspect

    settings = house_settings.current_or_defaults()
    for name in ("want_mm", "pinhole_mm"):
        require_between(options[name], 0.1, 5, f"The limit {name}", name)
    began = time.perf_counter()
    photo = open_photo(options["photo"].read_bytes(), settings)
    film = open_scan(options["film"].read_bytes(), options["dpi"], "srgb", settings)
    decode = time.perf_counter() - began
    limits = Limits(options["want_mm"], options["pinhole_mm"])
    black = film.codes < (np.iinfo(film.codes.dtype).max + 1) // 2
    return inspect(photo, black, film.dpi, limits, options["corners"]), decode


def _plain(found, decode: float) -> dict:
    return {
        "refused": found.refused or None,
        "side": found.side or None,
        "seen_share": round(found.seen_share, 4),
        "passed": found.passed,
        "findings": [_finding(d) for d in found.findings],
        "seconds": {"decode": round(decode, 3), "analyse": round(found.seconds, 3)},
    }


def _finding(difference) -> dict:
    from frimble.core.stencil.inspection.kinds import KINDS

    card = KINDS[difference.kind]
    numbers = ("x_mm", "y_mm", "width_mm", "height_mm", "value")
    place = {name: round(float(getattr(difference, name)), 3) for name in numbers}
    return {"kind": difference.kind, **place, "why": card.why, "do": card.do}


def _sentences(found) -> str:
    from frimble.core.stencil.inspection.kinds import KINDS

    if found.refused:
        return f"Refused: {found.refused}"
    lines = [f"The {found.side} side, {found.seen_share:.0%} of the film in view: {len(found.findings)} faults."]
    for d in found.findings:
        card = KINDS[d.kind]
        lines.append(f"{card.label} at {d.x_mm:.1f}, {d.y_mm:.1f} mm, {d.value:.2f} {card.unit}: {card.why}. {card.do}")
    return "\n".join(lines)
