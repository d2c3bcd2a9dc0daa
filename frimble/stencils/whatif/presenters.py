"""What the page of What if shows."""

from dataclasses import dataclass

from frimble.core.units import show_minutes, show_seconds
from frimble.stencils.whatif.sides import Side


@dataclass(frozen=True)
class SideRow:
    """One thing on both sides, and whether it differs."""

    label: str
    today: str
    then: str
    differs: bool


def rows(today: Side, then: Side) -> list[SideRow]:
    pairs = (
        ("Working window", _window), ("Time in its middle", _time), ("Opens at that time", _opens),
        ("Stands at that time", _stands), ("Dries, all layers", _dries), ("Emulsion of a screen", _emulsion),
    )  # fmt: skip
    shown = [(label, words(today), words(then)) for label, words in pairs]
    return [SideRow(label, a, b, a != b) for label, a, b in shown]


def _seconds(value: float) -> str:
    return show_seconds(round(value, 1))


def _window(side: Side) -> str:
    if side.window.closed:
        return f"none: detail closes before {_seconds(side.window.cured.value)} cure it"
    times = side.window.closes_s / side.window.cured.value
    return f"{_seconds(side.window.cured.value)} to {_seconds(side.window.closes_s)}, {times:.1f} ×"


def _time(side: Side) -> str:
    return _seconds(side.time_s)


def _opens(side: Side) -> str:
    finest = side.known.light(side.time_s).finest_open_um()
    return "nothing: the film leaks" if finest is None else f"from {finest:.0f} µm"


def _stands(side: Side) -> str:
    held = side.known.light(side.time_s).finest_held_um()
    return "nothing" if held is None else f"from {max(held, side.opening_um):.0f} µm"


def _dries(side: Side) -> str:
    return "not in this air" if side.dry_min is None else show_minutes(side.dry_min)


def _emulsion(side: Side) -> str:
    money = "" if side.money is None else f", {side.money:.2f} in money"
    return f"{side.emulsion_ml:.0f} ml{money}"


def headline(today: Side, then: Side) -> str:
    if then.window.closed:
        return "No window is left"
    wider = (then.window.closes_s / then.window.cured.value) / (today.window.closes_s / today.window.cured.value)
    longer = then.time_s / today.time_s
    parts = []
    if abs(longer - 1) > 0.02:
        parts.append(f"{longer:.2f} × the time")
    if abs(wider - 1) > 0.02:
        parts.append("a wider window" if wider > 1 else "a narrower window")
    return " and ".join(parts).capitalize() if parts else "The time and its window stay"
