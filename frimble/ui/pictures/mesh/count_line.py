"""Where a measured thread count lies among the shop's meshes."""

from collections.abc import Sequence

from frimble.ui.pictures.svg import element, picture, text

_WIDTH, _HEIGHT, _LINE, _RIM = 560, 120, 74, 30
_SHOWN = 0.16


def count_line(count: float, low: float, high: float, ours: Sequence[float]) -> str:
    """A line of threads per cm round the count: the interval as a bar, each mesh of the shop as a tick."""
    least, most = min(count * (1 - _SHOWN), low), max(count * (1 + _SHOWN), high)

    def at(value: float) -> float:
        return _RIM + (value - least) / (most - least) * (_WIDTH - 2 * _RIM)

    near = [c for c in ours if least <= c <= most]
    ticks = [
        element("line", class_="count-axis", x1=at(c), x2=at(c), y1=_LINE - 7, y2=_LINE + 7)
        + text(at(c), _LINE + 24, f"{c:g}")
        for c in near
    ]
    title = f"{count:.1f} threads per cm, between {low:.1f} and {high:.1f}; meshes here: " + (
        ", ".join(f"{c:g}" for c in near) or "none near"
    )
    return picture(
        _WIDTH,
        _HEIGHT,
        title,
        element("line", class_="count-axis", x1=_RIM, x2=_WIDTH - _RIM, y1=_LINE, y2=_LINE),
        element(
            "rect",
            class_="count-interval",
            x=at(low),
            y=_LINE - 26,
            width=max(at(high) - at(low), 2.0),
            height=14,
            rx=3,
        ),
        element("line", class_="count-here", x1=at(count), x2=at(count), y1=_LINE - 32, y2=_LINE - 6),
        text(at(count), _LINE - 40, f"{count:.1f} /cm", "count-words"),
        *ticks,
        class_="count-line",
    )
