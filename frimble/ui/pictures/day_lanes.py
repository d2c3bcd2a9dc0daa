"""A day's plan drawn: one lane a screen, what hands do and what dries, and when it is wanted."""

from collections.abc import Sequence
from dataclasses import dataclass

from frimble.ui.pictures.svg import element, picture, text, tip

_WIDE, _LABEL, _LANE, _TOP = 1000.0, 170.0, 22.0, 26.0
_HALF_HOUR_WORD = 18.0


@dataclass(frozen=True)
class Bar:
    """One step: minutes after the day's start, whether hands do it, whether it is done, and what it is."""

    start: int
    end: int
    hands: bool
    done: bool
    words: str


@dataclass(frozen=True)
class Lane:
    """One screen's steps; `due` in minutes after the day's start, None for any time or another day."""

    label: str
    bars: Sequence[Bar]
    due: int | None
    late: bool


def day_lanes(lanes: Sequence[Lane], hours: Sequence[tuple[int, str]], now_min: int | None, minutes: int) -> str:
    """The whole day; `hours` are the marks of its scale, minute and words."""
    scale = (_WIDE - _LABEL - 12) / max(minutes, 1)
    high = _TOP + _LANE * len(lanes) + 6

    def x(minute: float) -> float:
        return _LABEL + minute * scale

    parts = []
    for minute, words in hours:
        parts.append(element("line", x1=x(minute), x2=x(minute), y1=_TOP - 6, y2=high, class_="lane-hour"))
        anchor = "end" if x(minute) > _WIDE - _HALF_HOUR_WORD else "middle"
        parts.append(text(min(x(minute), _WIDE), 14, words, "soft", size=12, anchor=anchor))
    for k, lane in enumerate(lanes):
        parts += _lane(lane, _TOP + k * _LANE, x)
    if now_min is not None:
        parts.append(element("line", x1=x(now_min), x2=x(now_min), y1=_TOP - 6, y2=high, class_="lane-now"))
    return picture(_WIDE, high, "Each screen's way through the day", *parts, class_="day-lanes")


def _lane(lane: Lane, top: float, x) -> list[str]:
    parts = [text(_LABEL - 8, top + _LANE * 0.68, lane.label, "lane-label", anchor="end", size=12.5)]
    for bar in lane.bars:
        kind = "lane-hands" if bar.hands else "lane-dries"
        height = _LANE * (0.72 if bar.hands else 0.36)
        parts.append(
            element(
                "rect",
                tip(bar.words),
                x=x(bar.start),
                y=top + (_LANE - height) / 2,
                width=max(x(bar.end) - x(bar.start), 2.0),
                height=height,
                class_=f"{kind} is-done" if bar.done else kind,
            )
        )
    if lane.due is not None:
        words = "late: " if lane.late else ""
        mark = f"M{x(lane.due):.1f} {top + 2:.1f}v{_LANE - 4:.1f}m-4 -{_LANE - 4:.1f}h8"
        parts.append(
            element(
                "path",
                tip(f"{words}wanted at press"),
                d=mark,
                class_="lane-due is-late" if lane.late else "lane-due",
            )
        )
    return parts
