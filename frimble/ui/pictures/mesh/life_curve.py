"""A life curve: the share of meshes that live beyond so many cycles, with its interval."""

from frimble.ui.pictures.svg import element, picture, text

_WIDTH, _HEIGHT, _LEFT, _LOW, _TOP, _RIGHT = 620.0, 170.0, 48.0, 138.0, 12.0, 12.0


def life_curve(curve) -> str:
    """The picture; `curve` has times, share, low, high, lives and deaths."""
    if not len(curve.times):
        return ""
    last = max(1.0, float(curve.times[-1]) * 1.08)
    x = lambda t: _LEFT + (_WIDTH - _LEFT - _RIGHT) * t / last  # noqa: E731
    y = lambda s: _LOW - (_LOW - _TOP) * s  # noqa: E731
    band = _steps(curve.times, curve.high, last, x, y) + _steps(curve.times, curve.low, last, x, y)[::-1]
    parts = [
        element("path", class_="life-band", d=_path(band) + "z"),
        element("path", class_="life-tension", d=_path(_steps(curve.times, curve.share, last, x, y))),
        element("path", class_="life-axis", d=f"M{_LEFT} {_TOP}V{_LOW}H{_WIDTH - _RIGHT}"),
    ]
    parts += [text(_LEFT - 6, y(s) + 5, f"{s * 100:.0f} %", anchor="end", size=13) for s in (0, 0.5, 1)]
    parts += [text(x(t), _LOW + 18, f"{t:.0f}", size=13) for t in (0, last / 2, last)]
    parts.append(text(_WIDTH - _RIGHT, _HEIGHT - 2, "cycles", anchor="end", size=13))
    points = (f"{s * 100:.0f} % beyond {t:.0f} cycles" for t, s in zip(curve.times, curve.share, strict=True))
    title = f"Share that lives: {', '.join(points)}"
    return picture(_WIDTH, _HEIGHT, title, *parts, class_="life-curve")


def _steps(times, values, last, x, y):
    points, level = [(x(0), y(1))], 1.0
    for time, value in zip(times, values, strict=True):
        points += [(x(time), y(level)), (x(time), y(value))]
        level = value
    return [*points, (x(last), y(level))]


def _path(points) -> str:
    return "M" + "L".join(f"{a:.1f} {b:.1f}" for a, b in points)
