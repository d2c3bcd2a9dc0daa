"""Skills by level: where somebody stands in each, with how sure that is."""

from frimble.ui.pictures.svg import element, picture, text, tip

_LABEL, _WIDE, _ROW, _TOP = 190.0, 480.0, 28.0, 26.0
_LEVELS = ("beginner", "learner", "steady", "sure", "expert")


def skills_picture(rows) -> str:
    """The picture; `rows` have title, level, low and high on the scale of levels 1 to 5, words, and "
    "whether it was drilled."""

    def x(level: float) -> float:
        return _LABEL + (level - 1) / 4 * _WIDE

    high = _TOP + _ROW * len(rows) + 6
    parts = []
    for k, name in enumerate(_LEVELS, start=1):
        parts.append(element("line", x1=x(k), x2=x(k), y1=_TOP - 4, y2=high, class_="lane-hour"))
        parts.append(text(x(k), 16, name, "soft", size=12))
    for k, row in enumerate(rows):
        y = _TOP + _ROW * (k + 0.5)
        parts.append(text(_LABEL - 12, y + 5, row.title, anchor="end", size=14))
        if not row.drilled:
            continue
        words = tip(f"{row.title}: {row.words}")
        wide = max(x(row.high) - x(row.low), 2.0)
        parts.append(element("rect", words, class_="week-half", x=x(row.low), y=y - 5, width=wide, height=10.0))
        parts.append(element("circle", words, class_="week-middle", cx=x(row.level), cy=y, r=7.0))
    return picture(_LABEL + _WIDE + 50, high, "Skills by level", *parts, class_="skills-levels")
