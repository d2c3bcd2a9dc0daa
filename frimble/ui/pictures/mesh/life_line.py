"""Life line: a mesh's cycles as segments, each with its marks, and beneath it tension with its forecast and interval."""

import math

from frimble.ui.pictures.svg import element, picture, text

_WIDTH, _HEIGHT, _LEFT, _RIGHT = 760.0, 250.0, 46.0, 14.0
_LINE_Y, _TOP, _LOW = 34.0, 78.0, 216.0
_MARKS = {"coat": "coat", "expose": "expose", "to_press": "press", "reclaim": "reclaim"}


def life_line(life, cycles, events, now, limit: float, days_ahead: float = 120) -> str:
    """The picture.

    Args:
        life: anything with since, history (days, n_per_cm), forecast and sudden. cycles: (started, closed or None) moments.
        events: (kind, moment). limit: N/cm drawn as the house's least.
    """
    age = max(1.0, (now - life.since).total_seconds() / 86_400)
    ahead = days_ahead if life.forecast else 0
    across = _Across(age + ahead)
    parts = [element("path", class_="life-axis", d=f"M{_LEFT} {_LINE_Y}H{across.x(age):.1f}")]
    parts += _segments(cycles, life.since, now, across)
    parts += _marks(events, life.since, across)
    parts += _tension(life, age, across, limit)
    parts += _time(age, ahead, across)
    title = f"{len(cycles)} cycles in {age:.0f} days; {len(life.history)} tension measurements" + (
        f". {life.forecast.crossing.reason}" if life.forecast else ""
    )
    return picture(_WIDTH, _HEIGHT, title, *parts, class_="life-line")


class _Across:
    def __init__(self, days: float):
        self.days = days

    def x(self, day: float) -> float:
        return _LEFT + (_WIDTH - _LEFT - _RIGHT) * min(1.0, max(0.0, day / self.days))


def _day(moment, since) -> float:
    return (moment - since).total_seconds() / 86_400


def _segments(cycles, since, now, across):
    for started, closed in cycles:
        first, last = across.x(_day(started, since)), across.x(_day(closed or now, since))
        kind = "open" if closed is None else "closed"
        width = max(1.5, last - first - 1)
        yield element("rect", class_=f"life-cycle life-{kind}", x=first, y=_LINE_Y - 9, width=width, height=18)


def _marks(events, since, across):
    """What happened, below the line: a tick for each, longer for a reclaim, which ends a cycle."""
    for kind, moment in events:
        if kind in _MARKS:
            length = 16 if kind == "reclaim" else 9
            yield element(
                "path",
                class_=f"life-mark life-{_MARKS[kind]}",
                d=f"M{across.x(_day(moment, since)):.1f} {_LINE_Y + 11}v{length}",
            )


def _tension(life, age, across, limit):
    if not life.history:
        yield text(_LEFT, (_TOP + _LOW) / 2, "No tension measured yet.", anchor="start", size=14)
        return
    values = [m.n_per_cm for m in life.history] + [limit]
    curve = [c for c in life.forecast.curve if c[0] <= across.days - life.history[-1].days] if life.forecast else []
    values += [c[2] for c in curve]
    low, high = math.floor(min(values) - 0.5), math.ceil(max(values) + 0.5)
    y = lambda v: _LOW - (_LOW - _TOP) * (min(max(v, low), high) - low) / (high - low)  # noqa: E731
    start = life.history[-1].days
    if curve:
        upper = [(across.x(start + d), y(hi)) for d, _, _, hi in curve]
        lower = [(across.x(start + d), y(lo)) for d, _, lo, _ in reversed(curve)]
        yield element("path", class_="life-band", d=_path(upper + lower) + "z")
        yield element("path", class_="life-forecast", d=_path([(across.x(start + d), y(m)) for d, m, _, _ in curve]))
    yield element("path", class_="life-limit", d=f"M{_LEFT} {y(limit):.1f}H{_WIDTH - _RIGHT}")
    yield text(_WIDTH - _RIGHT, y(limit) - 5, f"limit {limit:g}", anchor="end", size=13)
    points = [(across.x(m.days), y(m.n_per_cm)) for m in life.history]
    yield element("path", class_="life-tension", d=_path(points))
    for number, (x, height) in enumerate(points):
        flagged = number in life.sudden
        yield element("circle", class_="life-flag" if flagged else "life-point", cx=x, cy=height, r=7 if flagged else 4)
    for value in (low, high):
        yield text(_LEFT - 6, y(value) + 4, f"{value:g}", anchor="end", size=13)
    yield text(4, _TOP - 12, "N/cm", anchor="start", size=13)


def _path(points) -> str:
    return "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in points)


def _time(age, ahead, across):
    yield text(_LEFT, _HEIGHT - 12, "mounted", anchor="start", size=13)
    now = across.x(age)
    yield element("path", class_="life-now", d=f"M{now:.1f} {_TOP - 8}V{_LOW}")
    yield text(now, _HEIGHT - 12, f"today, day {age:.0f}", anchor="end" if now > _WIDTH - 120 else "middle", size=13)
    if ahead:
        yield text(_WIDTH - _RIGHT, _HEIGHT - 12, f"+{ahead:.0f} days", anchor="end", size=13)
