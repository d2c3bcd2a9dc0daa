"""Check a film's scan from the command line: the same rules as the page."""

import json
import time
from dataclasses import replace
from pathlib import Path

from django.core.management.base import BaseCommand, CommandError

from frimble.people import settings as house_settings

_TYPE = ("type", "type_size")


class Command(BaseCommand):
    help = "Check a scan of a film positive and print what was found."

    def add_arguments(self, parser):
        parser.add_argument("image", type=Path)
        parser.add_argument("--dpi", type=float, help="resolution; the file's own when left out")
        parser.add_argument("--wedge", help="X_MM,Y_MM,PATCH_MM,D1/D2/… of a reference wedge, its first patch's corner")
        parser.add_argument("--encoding", choices=("linear", "srgb"), default="srgb")
        parser.add_argument("--min-density", type=float, help="black above clear film")
        parser.add_argument("--min-line-mm", type=float)
        parser.add_argument("--min-pinhole-mm", type=float)
        parser.add_argument("--json", action="store_true", help="one JSON object instead of sentences")

    def handle(self, *args, **options):
        # Loaded here: the image libraries cost a second that no other command should pay.
        from frimble.core.conclusions import InvalidInput
        from frimble.core.film.check import check_scan, with_seconds
        from frimble.core.film.findings import limits_for
        from frimble.core.film.scan.opening import open_scan
        from frimble.core.film.wedge.definition import parse_wedge

        settings = house_settings.current_or_defaults()
        try:
            wedge = parse_wedge(options["wedge"]) if options["wedge"] else None
            began = time.perf_counter()
            scan = open_scan(options["image"].read_bytes(), options["dpi"], options["encoding"], settings)
            decode = time.perf_counter() - began
            check = with_seconds(check_scan(scan, _asked(limits_for(settings), options), wedge), {"decode": decode})
        except OSError as error:
            raise CommandError(f"{options['image']} cannot be opened: {error.strerror}.") from None
        except InvalidInput as error:
            raise CommandError(str(error)) from None
        self.stdout.write(json.dumps(_plain(check)) if options["json"] else _sentences(check))


def _asked(limits, options):
    """The house's limits with what was given on the line laid over them."""
    given = {
        "least_density": options["min_density"],
        "line_mm": options["min_line_mm"],
        "pinhole_mm": options["min_pinhole_mm"],
    }
    return replace(limits, **{k: v for k, v in given.items() if v is not None})


def _plain(check) -> dict:
    """The check as JSON holds it. Small type is told with the thin lines it consists of."""
    return {
        "dmax": None if check.dmax is None else round(check.dmax, 3),
        "dmax_is_lower_bound": check.dmax_is_lower_bound,
        "dmin": None if check.dmin is None else round(check.dmin, 3),
        "passed": check.passed,
        "verdict": check.verdict,
        "reason": check.reason,
        "notes": list(check.notes),
        "skew_deg": round(check.skew_deg, 2),
        "findings": [_finding(f) for f in check.findings if f.kind not in _TYPE],
        "type": [_finding(f) for f in check.findings if f.kind in _TYPE],
        "seconds": {k: round(v, 4) for k, v in check.seconds.items()},
    }


def _finding(found) -> dict:
    place = {k: round(float(getattr(found, k)), 3) for k in ("x_mm", "y_mm", "width_mm", "height_mm", "value")}
    return {"kind": found.kind, **place}


def _sentences(check) -> str:
    lines = [check.reason, *check.notes]
    lines += [
        f"{f.label} at {f.x_mm:.1f}, {f.y_mm:.1f} mm, {f.width_mm:.2f} × {f.height_mm:.2f} mm: {f.why}"
        for f in check.findings
    ]
    return "\n".join(lines)
