"""Tension plate: the places on the frame with warp and weft, shaded by difference from the mean."""

from frimble.ui.pictures.svg import element, picture, text

_CELL, _GAP = 92.0, 8.0
_AT = {
    "upper left": (0, 0), "upper middle": (1, 0), "upper right": (2, 0), "left middle": (0, 1), "centre": (1, 1),
    "right middle": (2, 1), "lower left": (0, 2), "lower middle": (1, 2), "lower right": (2, 2),
}  # fmt: skip
# Differences of so much, N/cm, and more are drawn in full.
_FULL = 3.0


def tension_plate(places, mean: float) -> str:
    """The plate; `places` maps each place to (warp, weft) in N/cm."""
    side = 3 * _CELL + 4 * _GAP
    parts = [element("rect", class_="plate-frame", x=1, y=1, width=side - 2, height=side - 2)]
    for place, (warp, weft) in places.items():
        column, row = _AT[place]
        x, y = _GAP + column * (_CELL + _GAP), _GAP + row * (_CELL + _GAP)
        off = (warp + weft) / 2 - mean
        shade = min(1.0, abs(off) / _FULL)
        name = "plate-slack" if off < 0 else "plate-tight"
        parts += [
            element("rect", class_="plate-cell", x=x, y=y, width=_CELL, height=_CELL),
            element("rect", class_=name, x=x, y=y, width=_CELL, height=_CELL, fill_opacity=0.55 * shade),
            text(x + _CELL / 2, y + 34, f"{warp:.1f}", "plate-value", size=19),
            text(x + _CELL / 2, y + 57, f"{weft:.1f}", "plate-value", size=19),
            text(
                x + _CELL / 2,
                y + 80,
                f"{off + 0.0:+.1f}".replace("-0.0", "0.0").replace("+0.0", "0.0"),
                "plate-off",
                size=14,
            ),
        ]
    words = ", ".join(f"{place} {warp:.1f} warp {weft:.1f} weft" for place, (warp, weft) in places.items())
    return picture(side, side, f"Tension in N/cm: {words}", *parts, class_="tension-plate")
