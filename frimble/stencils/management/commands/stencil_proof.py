"""What a film will give on a mesh at a time: the rules of `core.stencil.proof`."""

import time
from pathlib import Path

from frimble.people import settings as house_settings
from frimble.ui.commands import AnswerCommand

_NUMBERS = ("thickness-um", "over-mesh-um", "time", "full-s", "gel-s", "dmax", "dmin")
_WORDS = {
    "closes": "closes", "washes_away": "washes away", "saw_tooth": "rough edges", "dot_lost": "dots lost",
}  # fmt: skip


class Command(AnswerCommand):
    help = "Tell what stencil a film will give on a mesh, coat and time, before anything is coated."

    def add_arguments(self, parser):
        super().add_arguments(parser)
        parser.add_argument("film", type=Path)
        parser.add_argument("--dpi", type=float, required=True, help="of the film's raster")
        parser.add_argument("--mesh", required=True, help="such as 43-80")
        parser.add_argument("--yellow", action="store_true", help="its threads are yellow")
        for name in _NUMBERS:
            parser.add_argument(f"--{name}", type=float, required=True)
        parser.add_argument("--spread-um", type=float, help="of the light, a standard deviation; else the house's")
        parser.add_argument("--out", type=Path, help="the stencil as a PNG, white where it is open")

    def answer(self, options):
        found, seconds = _proof(options)
        return _plain(found, seconds), _sentences(found)


def _proof(options):
    import numpy as np

    from frimble.core.film.scan.opening import open_scan
    from frimble.core.simulation.screen.light import exposure
    from frimble.core.stencil.proof.constants import usual_spread_um
    from frimble.core.stencil.proof.proofing import proof

    settings = house_settings.current_or_defaults()
    mesh, yellow = _mesh(options["mesh"], settings)
    spread = options["spread_um"]
    light = exposure(
        thickness_um=options["thickness_um"],
        over_mesh_um=options["over_mesh_um"],
        time_s=options["time"],
        full_s=options["full_s"],
        gel_s=options["gel_s"],
        dmax=options["dmax"],
        dmin=options["dmin"],
        spread_um=usual_spread_um(yellow or options["yellow"], settings) if spread is None else spread,
    )
    film = open_scan(options["film"].read_bytes(), options["dpi"], "srgb", settings)
    black = film.codes < (np.iinfo(film.codes.dtype).max + 1) // 2
    began = time.perf_counter()
    found = proof(black, film.dpi, mesh, light, settings)
    seconds = time.perf_counter() - began
    if options["out"]:
        _write(options["out"], found.open_)
    return found, seconds


def _mesh(text, settings):
    from frimble.core.conclusions import InvalidInput
    from frimble.core.mesh.geometry import Ambiguous, assumed_thread_um, geometry, parse_mesh

    spec = parse_mesh(text, settings)
    if isinstance(spec, Ambiguous):
        raise InvalidInput(spec.question, "mesh")
    thread = spec.thread_um or assumed_thread_um(spec.count_per_cm)
    return geometry(spec.count_per_cm, thread, settings), spec.colour == "yellow"


def _write(path, open_):
    import cv2

    path.write_bytes(bytes(cv2.imencode(".png", open_ * 255)[1]))


def _plain(found, seconds: float) -> dict:
    return {
        "opened_share": round(found.opened_share, 4),
        "findings": [
            {
                "kind": f.kind,
                "x_mm": round(f.x_mm, 3),
                "y_mm": round(f.y_mm, 3),
                "width_mm": round(f.width_mm, 3),
                "height_mm": round(f.height_mm, 3),
                "value": round(f.value, 3),
                "why": f.why,
            }
            for f in found.findings
        ],
        "finest_open_um": _rounded(found.finest_open_um),
        "finest_standing_um": _rounded(found.finest_standing_um),
        "seconds": round(seconds, 3),
    }


def _rounded(width_um):
    return None if width_um is None else round(width_um, 1)


def _sentences(found) -> str:
    lines = [f"{found.opened_share:.1%} of the film's black opens."]
    opens, stands = found.finest_open_um, found.finest_standing_um
    lines.append("Nothing opens." if opens is None else f"Openings from {opens:.0f} µm on stay open.")
    lines.append("Nothing stands." if stands is None else f"Stencil from {stands:.0f} µm on stands.")
    for f in found.findings:
        place = f"{f.width_mm:.1f} × {f.height_mm:.1f} mm at {f.x_mm:.1f}, {f.y_mm:.1f} mm"
        lines.append(f"{_WORDS[f.kind].capitalize()}: {place}. {f.why}")
    return "\n".join(lines)
