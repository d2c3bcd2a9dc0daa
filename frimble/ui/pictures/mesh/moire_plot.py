"""Moiré: the longest beat against the dot angle, and the overlay of both grids drawn to scale."""

import math
from collections.abc import Sequence

from frimble.ui.pictures.svg import element, picture, text

_WIDTH, _HEIGHT, _LEFT, _RIGHT, _TOP, _BOTTOM = 720.0, 260.0, 62.0, 16.0, 18.0, 44.0


def beat_plot(scan: Sequence[tuple[float, float]], threshold_mm: float, angle_deg: float, calm: Sequence[float]) -> str:
    """Longest beat, mm on a log scale, against dot angle; the line above which it shows; the angle in use.

    Args:
        scan: (dot angle in degrees 0..90, longest beat in mm).
        threshold_mm: beats longer than this show.
        angle_deg: the angle in use, 0..90. calm: angles to offer.
    """
    low = min(0.1, *(p for _, p in scan))
    high = max(threshold_mm * 4, min(100.0, max(p for _, p in scan)))
    span = math.log(high / low)

    def x(angle):
        return _LEFT + (_WIDTH - _LEFT - _RIGHT) * angle / 90

    def y(period):
        share = math.log(min(max(period, low), high) / low) / span
        return _HEIGHT - _BOTTOM - (_HEIGHT - _TOP - _BOTTOM) * share

    path = "M" + "L".join(f"{x(a):.1f} {y(p):.1f}" for a, p in scan)
    edge = y(threshold_mm)
    parts = [
        element(
            "rect", x=_LEFT, y=_TOP, width=_WIDTH - _LEFT - _RIGHT, height=max(0.0, edge - _TOP), class_="plot-shows"
        ),
        element("path", d=f"M{_LEFT} {_TOP}V{_HEIGHT - _BOTTOM}H{_WIDTH - _RIGHT}", class_="plot-axis", fill="none"),
        element("path", d=f"M{_LEFT} {edge:.1f}H{_WIDTH - _RIGHT}", class_="plot-edge"),
        text(_WIDTH - _RIGHT - 4, edge - 6, "above this line bands show", "strip-note", anchor="end"),
        element("path", d=path, class_="plot-line", fill="none"),
        element("path", d=f"M{x(angle_deg):.1f} {_TOP}V{_HEIGHT - _BOTTOM}", class_="strip-needle"),
        text(x(angle_deg) + 6, _TOP + 14, f"{angle_deg:g}°", "strip-number", anchor="start"),
        *(text(x(a), _HEIGHT - _BOTTOM + 20, f"{a}°", "strip-note") for a in range(0, 91, 15)),
        *(
            text(_LEFT - 8, y(mm) + 4, f"{mm:g} mm", "strip-note", anchor="end")
            for mm in (0.1, 0.3, 1, 3, 10, 30, 100)
            if low <= mm <= high
        ),
        *(element("circle", cx=x(a), cy=_HEIGHT - _BOTTOM, r=5, class_="plot-calm") for a in calm),
        text((_LEFT + _WIDTH) / 2, _HEIGHT - 6, "dot angle; full marks are the calmer angles", "strip-note"),
    ]
    title = f"Longest beat against dot angle; at {angle_deg:g}° in use; calmer at {', '.join(f'{a:g}°' for a in calm)}"
    return picture(_WIDTH, _HEIGHT, title, *parts, class_="beat-plot")


def overlay(count_per_cm: float, thread_um: float, ruling_per_cm: float, dot_angle: float, mesh_angle: float) -> str:
    """Threads over half-tone dots of 40 %, a piece so wide that about 24 dots lie across it, to scale."""
    side_mm = 240 / ruling_per_cm
    scale = 420 / side_mm
    dots = _dots(side_mm, 10 / ruling_per_cm, dot_angle, scale)
    threads = _threads(side_mm, 10 / count_per_cm, thread_um / 1000, mesh_angle, scale)
    box = element("rect", x=0, y=0, width=420, height=420, class_="overlay-paper")
    title = f"Halftone under the mesh, {side_mm:.1f} mm wide"
    body = element("svg", box, dots, threads, x=0, y=0, width=420, height=420, viewBox="0 0 420 420")
    return picture(420, 440, title, body, text(210, 435, f"{side_mm:.1f} mm", "strip-note"), class_="overlay")


def _lattice(side_mm, pitch_mm, angle_deg):
    """Points of a turned square lattice that can touch a square of this side."""
    along, across = pitch_mm * math.cos(math.radians(angle_deg)), pitch_mm * math.sin(math.radians(angle_deg))
    reach = math.ceil(side_mm / pitch_mm)
    for i in range(-reach, reach + 1):
        for j in range(-reach, reach + 1):
            x, y = side_mm / 2 + i * along - j * across, side_mm / 2 + i * across + j * along
            if -pitch_mm < x < side_mm + pitch_mm and -pitch_mm < y < side_mm + pitch_mm:
                yield x, y


def _dots(side_mm, pitch_mm, angle_deg, scale) -> str:
    radius = pitch_mm * math.sqrt(0.4 / math.pi) * scale
    half = f"a{radius:.1f} {radius:.1f} 0 1 0"
    circle = f"{half} {2 * radius:.1f} 0{half} {-2 * radius:.1f} 0"
    lattice = _lattice(side_mm, pitch_mm, angle_deg)
    d = "".join([f"M{x * scale - radius:.1f} {y * scale:.1f}{circle}" for x, y in lattice])
    return element("path", d=d, class_="overlay-dots")


def _threads(side_mm, pitch_mm, thread_mm, angle_deg, scale) -> str:
    count = math.ceil(side_mm * 0.75 / pitch_mm)
    middle, reach = side_mm / 2 * scale, side_mm * scale
    d = "".join(
        f"M{middle + k * pitch_mm * scale:.2f} {middle - reach:.1f}v{2 * reach:.1f}"
        f"M{middle - reach:.1f} {middle + k * pitch_mm * scale:.2f}h{2 * reach:.1f}"
        for k in range(-count, count + 1)
    )
    return element(
        "path",
        d=d,
        class_="overlay-threads",
        fill="none",
        stroke_width=thread_mm * scale,
        transform=f"rotate({angle_deg:g} {middle:.1f} {middle:.1f})",
    )
