"""A screen seen from its print side with the marks on its mesh, to scale."""

from frimble.ui.pictures.svg import element, picture

_RAIL = 40


def blemish_map(screen, blemishes, width: float) -> str:
    """The frame `width` px wide; each blemish a box with its own hatch."""
    wide, high = screen.frame.outer_width_mm, screen.frame.outer_height_mm
    parts = [
        element("rect", x=2, y=2, width=wide - 4, height=high - 4, class_="map-frame"),
        element("rect", x=_RAIL, y=_RAIL, width=wide - 2 * _RAIL, height=high - 2 * _RAIL, class_="map-mesh"),
    ]
    for mark in blemishes:
        box = {"x": mark.x_mm, "y": mark.y_mm, "width": mark.width_mm, "height": mark.height_mm}
        parts.append(element("rect", class_=f"map-{mark.kind}", **box))
    marks = list(blemishes)
    words = ", ".join(f"{m.get_kind_display()} at {m.x_mm:.0f}, {m.y_mm:.0f} mm" for m in marks) or "no mark"
    size = "wide" if width > 300 else "small"
    return picture(wide, high, f"{screen.code}: {words}", *parts, class_=f"blemish-map map-{size}")
