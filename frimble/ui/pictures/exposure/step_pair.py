"""Two steps of a photographed test at one large scale, and between them what each ruling measures on either."""

from frimble.ui.pictures.svg import element, picture, text

_GUTTER_MM, _HEAD_MM, _COLUMN_MM = 64.0, 9.0, 21.0
_WORDS = {"openings": "open", "lines": "line", "dots": "dots"}


def step_pair(left, right, names: tuple[str, str], widths_mm: tuple[float, float], height_mm: float, sizes) -> str:
    """The pair.

    Args:
        left, right: addresses of the two strips' pictures, each of the whole strip. names: above them. widths_mm: of each.
        sizes: (one, other) core sizes of the same part on both, from the top down.
    """
    first, other_width = widths_mm
    second = first + _GUTTER_MM
    parts = []
    sides = (
        (0.0, first, left, names[0], 0.0, "start"),
        (second, other_width, right, names[1], second + other_width, "end"),
    )
    for x, width, url, name, at, anchor in sides:
        box = {"x": x, "y": _HEAD_MM, "width": width, "height": height_mm}
        parts.append(element("image", href=url, preserveAspectRatio="none", **box))
        parts.append(element("rect", class_="pair-frame", **box))
        parts.append(text(at, 6.2, name, "photo-time", anchor=anchor, size=4.2))
    middle = first + _GUTTER_MM / 2
    parts.append(text(middle, 6.2, "drawn", "soft", size=3.6))
    for one, other in sizes:
        y = _HEAD_MM + one.y_mm
        parts.append(element("path", class_="pair-rule", d=f"M{first + 1} {y + 2.4:.1f}H{second - 1}"))
        drawn = f"{one.drawn:.0f} {one.unit} {_WORDS[one.kind]}"
        parts.append(text(middle, y + 1.2, drawn, "soft", size=3.4))
        for x, size in ((middle - _COLUMN_MM, one), (middle + _COLUMN_MM, other)):
            parts.append(text(x, y + 1.2, _measured(size), "photo-time", size=3.8))
    title = f"{names[0]} beside {names[1]}: " + "; ".join(
        f"{a.drawn:.0f} {a.unit} {_WORDS[a.kind]} measures {_measured(a)} and {_measured(b)}" for a, b in sizes
    )
    return picture(second + other_width, height_mm + _HEAD_MM + 1, title, *parts, class_="step-pair")


def _measured(size) -> str:
    return "–" if size.measured is None else f"{max(0.0, size.measured):.0f} {size.unit}"
