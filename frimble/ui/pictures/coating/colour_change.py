"""Colour change: an emulsion before and after light, side by side."""

from frimble.ui.pictures.svg import element, picture, text

_SIDE, _GAP = 34, 28


def colour_change(name: str, before: str, after: str) -> str:
    """Two patches with an arrow between; only the first when nobody has written the second down."""
    parts = [element("rect", class_="coat patch", x=1, y=1, width=_SIDE, height=_SIDE, fill=before)]
    if after:
        parts.append(text(_SIDE + _GAP / 2 + 1, 24, "→", size=18))
        parts.append(element("rect", class_="coat patch", x=_SIDE + _GAP, y=1, width=_SIDE, height=_SIDE, fill=after))
    title = f"{name}: {before} before light" + (f", {after} after" if after else "")
    return picture(2 * _SIDE + _GAP + 2, _SIDE + 2, title, *parts, class_="colour-change", fixed=True)
