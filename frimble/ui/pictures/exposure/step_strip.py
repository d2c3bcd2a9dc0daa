"""Step strip: a moving-card test to scale, strip 1 at the start of the card's travel."""

import itertools
import math
from collections.abc import Sequence

from frimble.core.units import show_seconds
from frimble.ui.pictures.svg import element, picture, text

_WIDTH, _SIDE, _TOP, _HEIGHT = 900.0, 20.0, 44.0, 96.0


def step_strip(
    times_s: Sequence[float | None],
    edges_mm: Sequence[float],
    moves: Sequence[tuple[float, int]],
    card: str,
    grades: Sequence[str] = (),
    chosen_s: float | None = None,
) -> str:
    """The strips to scale, darker with more light, their times above, the card's edges in mm below.

    Args:
        times_s: s of strip 1, 2, …; None where it is not sure.
        edges_mm: where the card's edge stands, mm, one more than strips.
        moves: (s after light on, strip) in the order of the moves.
        card: "cover" or "uncover".
        grades: one word for each strip, or empty; with grades the strips show them in place of the moves.
        chosen_s: the chosen time, marked between the strips it lies between, s.
    """
    scale = (_WIDTH - 2 * _SIDE) / edges_mm[-1]
    order = {strip: number for number, (_, strip) in enumerate(moves, start=1)}
    at = {strip: when for when, strip in moves}
    every = _label_every(scale * edges_mm[1])
    parts = []
    for strip, time in enumerate(times_s, start=1):
        x, right = _SIDE + scale * edges_mm[strip - 1], _SIDE + scale * edges_mm[strip]
        middle = (x + right) / 2
        shade = 0.12 + 0.6 * (len(times_s) - strip + 1) / len(times_s)
        parts += [
            element("rect", x=x, y=_TOP, width=right - x, height=_HEIGHT, class_="strip-light", fill_opacity=shade),
            element("rect", x=x, y=_TOP, width=right - x, height=_HEIGHT, class_="strip-frame"),
            text(middle, _TOP + 22, str(strip), "strip-number"),
        ]
        if (strip - 1) % every == 0:
            parts.append(text(middle, _TOP - 10, _time_words(time), "strip-time"))
        if strip in order and every == 1 and not grades:
            verb = "covered" if card == "cover" else "uncovered"
            parts.append(text(middle, _TOP + 52, f"move {order[strip]}", "strip-note"))
            parts.append(text(middle, _TOP + 70, f"{verb}", "strip-note"))
            parts.append(text(middle, _TOP + 86, f"at {show_seconds(at[strip])}", "strip-note"))
        if grades:
            class_ = "strip-good" if grades[strip - 1] == "good" else "strip-note"
            parts.append(text(middle, _TOP + 58, grades[strip - 1], class_))
    if chosen_s is not None:
        parts.append(_chosen(chosen_s, times_s, edges_mm, scale))
    parts.append(_ruler(edges_mm, scale, every))
    shown = ", ".join(f"strip {n} {_time_words(t)}" for n, t in enumerate(times_s, start=1))
    return picture(_WIDTH, 190, f"Step test to scale: {shown}", *parts, class_="step-strip")


def _time_words(time_s: float | None) -> str:
    return "not sure" if time_s is None else show_seconds(time_s)


def _chosen(time_s, times_s, edges_mm, scale) -> str:
    """A needle where the chosen time lies, by the logarithm of time between the middles of its two strips."""
    middles = [(a + b) / 2 for a, b in itertools.pairwise(edges_mm)]
    for strip, (longer, shorter) in enumerate(itertools.pairwise(times_s)):
        if None not in (shorter, longer) and shorter <= time_s <= longer:
            part = math.log(longer / time_s) / math.log(longer / shorter)
            x = _SIDE + scale * (middles[strip] + part * (middles[strip + 1] - middles[strip]))
            needle = element("path", d=f"M{x:.1f} {_TOP}v{_HEIGHT:.0f}", class_="strip-needle")
            return needle + text(x + 8, _TOP + _HEIGHT - 8, show_seconds(time_s), "strip-time", anchor="start")
    return ""


def _label_every(width: float) -> int:
    """Label each strip while a label fits, else every second or third."""
    return 1 if width > 62 else 2 if width > 32 else 3


def _ruler(edges_mm, scale, every) -> str:
    y = _TOP + _HEIGHT
    parts = []
    for k, edge in enumerate(edges_mm):
        x = _SIDE + scale * edge
        parts.append(element("path", d=f"M{x:.1f} {y}v8", class_="strip-tick"))
        if k % every == 0:
            parts.append(text(x, y + 24, f"{edge:g}", "strip-note"))
    parts.append(text(_WIDTH / 2, y + 44, "card edge, mm from the start of strip 1", "strip-note"))
    return "".join(parts)
