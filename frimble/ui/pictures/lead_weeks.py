"""Lead time week by week: the middle of each week's screens with the half of them around it."""

from frimble.core.units import show_minutes
from frimble.ui.pictures.svg import element, picture, text, tip

_LABEL, _WEEK, _HIGH, _TOP, _FOOT = 90.0, 44.0, 190.0, 14.0, 30.0
_LINES = 4
_STEPS_MIN = (30, 60, 120, 240, 480, 720, 1440, 2880, 4320, 7200, 14400, 28800)


def lead_weeks(weeks) -> str:
    """The picture; `weeks` have monday, usual (an interval in minutes) and number."""
    most = max(week.usual.high for week in weeks)
    step = next((s for s in _STEPS_MIN if s * _LINES >= most), _STEPS_MIN[-1])
    top = max(step * _LINES, most)
    wide, bottom = _LABEL + _WEEK * len(weeks) + 10, _TOP + _HIGH

    def y(minutes: float) -> float:
        return bottom - minutes / top * _HIGH

    parts = []
    for line in range(_LINES + 1):
        at = y(line * step)
        parts.append(element("line", x1=_LABEL, x2=wide, y1=at, y2=at, class_="lane-hour"))
        parts.append(text(_LABEL - 8, at + 4, show_minutes(line * step) if line else "0", "soft", "end", 12))
    for k, week in enumerate(weeks):
        middle = y(week.usual.value) - 2
        x = _LABEL + _WEEK * (k + 0.5)
        words = f"Week of {week.monday:%-d %b}: {show_minutes(week.usual.value)}, {week.number} screens"
        low, high = y(week.usual.low), y(week.usual.high)
        parts.append(
            element("rect", tip(words), class_="week-half", x=x - 9, y=high, width=18, height=max(low - high, 1.5))
        )
        parts.append(element("rect", tip(words), class_="week-middle", x=x - 12, y=middle, width=24, height=4))
        if k % 2 == 0 or len(weeks) <= _LINES:
            parts.append(text(x, bottom + 18, f"{week.monday:%-d %b}", "soft", size=11.5))
    return picture(wide, bottom + _FOOT, "Lead time by the week of press", *parts, class_="lead-weeks")
