"""Curves of a stencil proof: what is lost by time, and what tones become."""

import math

from frimble.core.units import show_seconds
from frimble.ui.pictures.svg import element, picture, text

_LEFT, _TOP, _WIDE, _HIGH = 70.0, 16.0, 560.0, 190.0
_PARTS = 4
_SIDE, _MARGIN = 220.0, 40.0


def proof_times(tried, time_s: float) -> str:
    """Shares of black that closes and of clear film that washes away, by time; a line where the proof's time is."""
    times = [row[0] for row in tried]
    first, last = math.log(min(*times, time_s)), math.log(max(*times, time_s))
    most = max(0.05, *(max(row[1], row[2]) for row in tried))

    def x(seconds: float) -> float:
        return _LEFT + (math.log(seconds) - first) / (last - first) * _WIDE

    def y(share: float) -> float:
        return _TOP + _HIGH * (1 - share / most)

    parts = []
    for k in range(_PARTS + 1):
        at = y(most * k / _PARTS)
        parts.append(element("line", x1=_LEFT, x2=_LEFT + _WIDE, y1=at, y2=at, class_="lane-hour"))
        parts.append(text(_LEFT - 8, at + 4, f"{most * k / _PARTS:.0%}", "soft", "end", 12))
    for column, class_ in ((1, "proof-line-closed"), (2, "proof-line-washed")):
        points = " ".join(f"{x(row[0]):.1f},{y(row[column]):.1f}" for row in tried)
        parts.append(element("polyline", points=points, class_=class_))
    for seconds in times[:: max(1, len(times) // 6)]:
        parts.append(text(x(seconds), _TOP + _HIGH + 18, show_seconds(round(seconds, 1)), "soft", size=12))
    here = x(time_s)
    parts.append(element("line", x1=here, x2=here, y1=_TOP, y2=_TOP + _HIGH, class_="lane-now"))
    parts.append(text(_LEFT + 6, _TOP + 12, "washes away", "proof-word-washed", "start", 13))
    parts.append(text(_LEFT + _WIDE - 6, _TOP + 12, "closes", "proof-word-closed", "end", 13))
    words = "Share of the film lost by time: closing and washing away"
    return picture(_LEFT + _WIDE + 30, _TOP + _HIGH + 30, words, *parts, class_="proof-times")


def proof_tones(tones) -> str:
    """Coverage of the openings over coverage on the film, with the line on which nothing changes."""

    def x(share: float) -> float:
        return _MARGIN + share * _SIDE

    def y(share: float) -> float:
        return 8 + (1 - share) * _SIDE

    parts = []
    for k in range(_PARTS + 1):
        share = k / _PARTS
        parts.append(element("line", x1=x(0), x2=x(1), y1=y(share), y2=y(share), class_="lane-hour"))
        parts.append(text(x(0) - 6, y(share) + 4, f"{share:.0%}", "soft", "end", 11))
        parts.append(text(x(share), y(0) + 16, f"{share:.0%}", "soft", size=11))
    parts.append(element("line", x1=x(0), y1=y(0), x2=x(1), y2=y(1), class_="plot-edge"))
    points = " ".join(f"{x(film):.1f},{y(after):.1f}" for film, after, _ in tones)
    parts.append(element("polyline", points=points, class_="proof-line-closed"))
    words = "Tones: " + ", ".join(f"{film:.0%} becomes {after:.0%}" for film, after, _ in tones)
    return picture(_MARGIN + _SIDE + 24, _SIDE + 36, words, *parts, class_="proof-tones")


def window_times(window, time_s: float, most_s: float) -> str:
    """A working window on a line of seconds, with the time that is taken; detail closing before the cure leaves none."""
    wide, left = 560.0, 10.0

    def x(seconds: float) -> float:
        return left + min(seconds / most_s, 1.0) * wide

    cured, closes = window.cured, window.closes_s
    parts = [element("line", x1=left, x2=left + wide, y1=34, y2=34, class_="lane-hour")]
    if not window.closed:
        parts.append(
            element("rect", class_="week-half", x=x(cured.value), y=22, width=x(closes) - x(cured.value), height=24)
        )
    parts.append(
        element(
            "rect", class_="proof-doubt", x=x(cured.low), y=30, width=max(x(cured.high) - x(cured.low), 2.0), height=8
        )
    )
    parts.append(element("line", x1=x(time_s), x2=x(time_s), y1=14, y2=54, class_="lane-now"))
    for seconds, words in ((cured.value, "cured"), (closes, "closes")):
        parts.append(text(x(seconds), 70, f"{words} {show_seconds(round(seconds, 1))}", "soft", size=17))
    words = f"Cured in {show_seconds(round(cured.value, 1))}, closes at {show_seconds(round(closes, 1))}"
    return picture(left * 2 + wide + 40, 80, words, *parts, class_="proof-window")
