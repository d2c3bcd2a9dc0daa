"""A straightened photo of a step test with what was measured on it, and the curve the time was read from."""

import itertools
import math
from collections.abc import Sequence

from frimble.core.units import show_seconds
from frimble.ui.pictures.svg import element, picture, text

_HEAD_MM, _FOOT_MM = 15.0, 10.0


def step_photo(url: str, width_mm: float, height_mm: float, strips: Sequence, steps: Sequence, chosen_s=None) -> str:
    """The photo to scale, each step outlined with its time above and its verdict below; the chosen time as a needle.

    Args:
        strips: of the film, with x_mm and width_mm. steps: as read, in the same order, with time_s and verdict.
    """
    parts = [element("image", href=url, x=0, y=_HEAD_MM, width=width_mm, height=height_mm, preserveAspectRatio="none")]
    narrow = strips[0].width_mm < 16
    for k, (strip, step) in enumerate(zip(strips, steps, strict=True)):
        middle = strip.x_mm + strip.width_mm / 2
        name = f"photo-step photo-{step.verdict}"
        parts.append(
            element(
                "rect",
                class_=name,
                x=strip.x_mm + 0.5,
                y=_HEAD_MM + 0.5,
                width=strip.width_mm - 1,
                height=height_mm - 1,
            )
        )
        if not narrow or k % 2 == 0:
            parts.append(text(middle, 10, show_seconds(step.time_s), "photo-time", size=6))
            parts.append(text(middle, _HEAD_MM + height_mm + 7.5, step.verdict, "photo-time", size=6))
    needle = _needle_x(strips, steps, chosen_s)
    if needle:
        parts.append(
            element("path", class_="strip-needle", d=f"M{needle:.1f} {_HEAD_MM - 2}V{_HEAD_MM + height_mm + 1}")
        )
    shown = ", ".join(f"step {s.index} {show_seconds(s.time_s)} {s.verdict}" for s in steps)
    return picture(
        width_mm, height_mm + _HEAD_MM + _FOOT_MM, f"The photo with its steps: {shown}", *parts, class_="step-photo"
    )


def _needle_x(strips, steps, chosen_s) -> float | None:
    """Where the chosen time lies, by the logarithm of time between the middles of its two strips."""
    if not chosen_s:
        return None
    middles = [s.x_mm + s.width_mm / 2 for s in strips]
    known = sorted(zip((s.time_s for s in steps), middles, strict=True))
    for (a, x), (b, z) in itertools.pairwise(known):
        if a <= chosen_s <= b:
            return x + (z - x) * math.log(chosen_s / a) / math.log(b / a)
    return None


_WIDTH, _HEIGHT, _LEFT, _RIGHT, _TOP, _LOW = 900.0, 300.0, 56.0, 150.0, 24.0, 250.0


def step_curve(steps: Sequence, widths_um: Sequence[float], cured, closes, chosen_s=None) -> str:
    """How dense the stencil is and how open three openings look, against time on a log scale, with the window's ends.

    Args:
        steps: as read, each with time_s, share and open_share. widths_um: of the openings, finest first.
        cured, closes: (best, low, high) s, or None.
    """
    ordered = sorted(steps, key=lambda s: s.time_s)
    low, high = ordered[0].time_s / 1.15, ordered[-1].time_s * 1.15
    x = lambda t: _LEFT + (_WIDTH - _LEFT - _RIGHT) * math.log(min(max(t, low), high) / low) / math.log(high / low)  # noqa: E731
    y = lambda v: _LOW - (_LOW - _TOP) * min(max(v, 0.0), 1.25) / 1.25  # noqa: E731
    parts = [_band(x, cured, "curve-cured"), _band(x, closes, "curve-closes")]
    for value in (0, 0.5, 1):
        parts.append(element("path", class_="chart-limit", d=f"M{_LEFT} {y(value):.1f}H{_WIDTH - _RIGHT - 20}"))
        parts.append(text(_LEFT - 8, y(value) + 5, f"{value * 100:.0f} %", "soft", anchor="end", size=14))
    parts += _line(ordered, lambda s: s.share, x, y, "curve-stencil", "stencil")
    for k in _three(len(widths_um)):
        name = f"{widths_um[k]:.0f} µm open"
        parts += _line(ordered, lambda s, k=k: s.open_share[k] if s.open_share else None, x, y, "curve-open", name)
    for step in ordered:
        parts.append(text(x(step.time_s), _LOW + 22, show_seconds(step.time_s), "soft", size=13))
    if chosen_s:
        parts.append(element("path", class_="strip-needle", d=f"M{x(chosen_s):.1f} {_TOP - 8}V{_LOW}"))
        parts.append(text(x(chosen_s), _TOP - 10, show_seconds(chosen_s), "strip-time", size=15))
    title = "Density of the stencil and openness of its openings against time"
    return picture(_WIDTH, _HEIGHT, title, *parts, class_="step-curve")


def _three(count: int) -> list[int]:
    return sorted({0, count // 2 - 1, count - 1}) if count > 3 else list(range(count))


def _band(x, edge, name) -> str:
    if not edge:
        return ""
    best, low, high = (x(v) for v in edge)
    return element("rect", class_=name, x=low, y=_TOP, width=max(2.0, high - low), height=_LOW - _TOP) + element(
        "path", class_=f"{name}-line", d=f"M{best:.1f} {_TOP}V{_LOW}"
    )


def _line(steps, value, x, y, name, words) -> list[str]:
    points = [(x(s.time_s), y(value(s))) for s in steps if value(s) is not None]
    if not points:
        return []
    drawn = [element("path", class_=name, d="M" + "L".join(f"{a:.1f} {b:.1f}" for a, b in points))]
    drawn += [element("circle", class_=f"{name}-dot", cx=a, cy=b, r=3.5) for a, b in points]
    return [*drawn, text(points[-1][0] + 8, points[-1][1] + 5, words, "soft", anchor="start", size=13)]
