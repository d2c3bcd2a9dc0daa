"""Window bar: time on a log scale; strokes under, solid working, dots over; soft edges for uncertainty."""

import itertools
import math
from functools import cache

from frimble.core.units import show_seconds
from frimble.ui.pictures.svg import element, picture, text

_WIDTH, _LEFT, _RIGHT = 560.0, 8.0, 8.0
_TOP, _BAR = 30.0, 22.0
# Room for the time in use, as large as phones show it.
_TIME = 90.0
_NICE = (1, 1.5, 2, 3, 5, 7, 8)
_serial, _MARK = itertools.count(), "wb-mark"


def window_bar(
    time_s: float | None,
    cured: tuple[float, float, float] | None,
    closes: tuple[float, float, float] | None,
    span: tuple[float, float] | None = None,
) -> str:
    """The working window with the time in use as a pointer.

    Args:
        time_s: the time in use, s, or None.
        cured: (best, low, high) of the shortest full cure, s; None when the test did not bracket it.
        closes: (best, low, high) of the longest time that keeps the detail, s; None when not bracketed.
        span: shortest and longest time of the scale, s, where several bars are to be compared.
    """
    known = [t for edge in (cured, closes) if edge for t in edge] + ([time_s] if time_s else [])
    scale = _Scale(*(span or (min(known) / 1.9, max(known) * 1.9)))
    # Solid only where the test is sure: past the step that was cured, before the step that had closed.
    ends = (scale.x(cured[2]) if cured else _LEFT), (scale.x(closes[1]) if closes else _WIDTH - _RIGHT)
    # Pattern ids must differ on a page that shows several bars.
    mark = f"wb{next(_serial)}"
    parts = [
        _patterns().replace(_MARK, mark),
        _region(_LEFT, ends[0], f"url(#{mark}-under)"),
        element("rect", x=ends[0], y=_TOP, width=max(1.0, ends[1] - ends[0]), height=_BAR, class_="window-working"),
        _region(ends[1], _WIDTH - _RIGHT, f"url(#{mark}-over)"),
        _soft_edge(scale, cured, f"{mark}-rise") if cured else "",
        _soft_edge(scale, closes, f"{mark}-fall") if closes else "",
        element("rect", x=_LEFT, y=_TOP, width=_WIDTH - _LEFT - _RIGHT, height=_BAR, class_="window-frame"),
        _ticks(scale),
        _pointer(scale.x(time_s), show_seconds(time_s)) if time_s else "",
    ]
    return picture(_WIDTH, 78, _title(time_s, cured, closes), *parts, class_="window-bar")


class _Scale:
    def __init__(self, low: float, high: float):
        self.low, self.high = low, high
        self.per_log = (_WIDTH - _LEFT - _RIGHT) / math.log(high / low)

    def x(self, time_s: float) -> float:
        return _LEFT + self.per_log * math.log(time_s / self.low)


def _title(time_s, cured, closes) -> str:
    start = f"cured through from {show_seconds(cured[0])}" if cured else "full cure not bracketed"
    end = f"detail closes at {show_seconds(closes[0])}" if closes else "upper end not bracketed"
    use = f"; in use {show_seconds(time_s)}" if time_s else ""
    return f"Working window: {start}, {end}{use}"


@cache
def _patterns() -> str:
    """What both ends are filled with, under names that begin with `_MARK`."""
    under = element(
        "pattern",
        element("path", d="M-1 9L5 -3M5 13L15 -7", class_="window-stroke", fill="none"),
        id=f"{_MARK}-under",
        width=10,
        height=10,
        patternUnits="userSpaceOnUse",
    )
    over = element(
        "pattern",
        element("circle", cx=4, cy=4, r=1.3, class_="window-dot"),
        id=f"{_MARK}-over",
        width=8,
        height=8,
        patternUnits="userSpaceOnUse",
    )
    fades = [
        element(
            "linearGradient",
            element("stop", offset=0, class_="fade-none" if rise else "fade-full"),
            element("stop", offset=1, class_="fade-full" if rise else "fade-none"),
            id=f"{_MARK}-{'rise' if rise else 'fall'}",
        )
        for rise in (True, False)
    ]
    return element("defs", under, over, *fades)


def _region(start, end, fill) -> str:
    if end <= start:
        return ""
    return element("rect", x=start, y=_TOP, width=end - start, height=_BAR, fill=fill)


def _soft_edge(scale, edge, mark) -> str:
    start, end = scale.x(edge[1]), scale.x(edge[2])
    return element("rect", x=start, y=_TOP, width=max(0.5, end - start), height=_BAR, fill=f"url(#{mark})")


def _ticks(scale) -> str:
    parts, last = [], -100.0
    decade = 10 ** math.floor(math.log10(scale.low))
    while decade <= scale.high:
        for nice in _NICE:
            time = nice * decade
            x = scale.x(time)
            if scale.low <= time <= scale.high and x - last > 34 and _LEFT + 8 < x < _WIDTH - 14:
                parts.append(element("path", d=f"M{x:.1f} {_TOP + _BAR}v6", class_="window-tick"))
                parts.append(text(x, _TOP + _BAR + 21, f"{time:g}", "window-label"))
                last = x
        decade *= 10
    return "".join(parts)


def _pointer(x, words) -> str:
    d = f"M{x - 8:.1f} {_TOP - 12}h16l-8 11z"
    line = element("path", d=f"M{x:.1f} {_TOP - 4}V{_TOP + _BAR + 3}", class_="window-needle")
    return (
        element("path", d=d, class_="window-pointer")
        + line
        + text(min(max(x, _TIME / 2), _WIDTH - _TIME / 2), _TOP - 17, words, "window-time")
    )
