"""Losses as bars, the dearest first, with the share that runs up over them."""

from frimble.core.numbers import counted
from frimble.ui.pictures.svg import element, picture, text

_WIDTH, _LABEL, _BAR, _ROW, _TOP = 720, 210, 360, 34, 26
_SHOWN = 12


def loss_bars(losses) -> str:
    """The picture; `losses` has bars with label, number, money and running share."""
    bars = losses.bars[:_SHOWN]
    high = _TOP + _ROW * len(bars) + 8
    dearest = max((b.money for b in bars), default=0.0) or 1.0
    parts, line = [], []
    for k, bar in enumerate(bars):
        y = _TOP + k * _ROW
        parts.append(text(_LABEL - 10, y + 19, _short(bar.label), anchor="end", size=15))
        width = max(bar.money / dearest * _BAR, 2.0)
        parts.append(element("rect", class_="loss-bar", x=_LABEL, y=y + 4, width=width, height=_ROW - 12))
        # Beside the bars' end the running line would cross it.
        parts.append(text(_LABEL + _BAR + 12, y + 19, f"{bar.number} ×, {bar.money:.0f}", anchor="start", size=14))
        line.append(f"{_LABEL + bar.running * _BAR:.1f} {y + _ROW / 2:.1f}")
    parts.append(element("path", class_="loss-running", d="M" + "L".join(line)))
    parts.append(text(_LABEL, 16, "in money; the line is the share run up, 0 to 100 %", "soft", "start", 13))
    title = "Losses: " + "; ".join(f"{b.label} {counted(b.number, 'time')}, {b.money:.0f} in money" for b in bars)
    return picture(_WIDTH, high, title, *parts, class_="loss-bars")


def _short(label: str) -> str:
    return label if len(label) <= 26 else f"{label[:25]}…"
