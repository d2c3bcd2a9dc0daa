"""Rack elevation: a rack as it stands, slots in proportion, frame signs in them, dark places dark."""

from frimble.ui.pictures.frame_sign import frame_sign
from frimble.ui.pictures.svg import element, picture, text

_GAP, _LABEL = 6.0, 16.0


def rack_elevation(rack, slots, now, urls, scale: float = 0.072) -> str:
    """The rack with its slots.

    Args:
        rack: anything with name and dark.
        slots: dicts with slot (column, row from 1 at the lower left, width_mm, height_mm, code), screen or None,
            reason (why a chosen screen may not go in, empty when it may), marked.
        urls: slot code → address it links to; slots without one are drawn, not linked.
        scale: px for one mm.
    """
    widths, heights = _grid(slots, scale)
    xs, total_width = _starts(widths)
    ys, total_height = _starts(heights)
    parts = [element("rect", x=0, y=0, width=total_width, height=total_height, class_="rack-body")]
    for item in slots:
        slot = item["slot"]
        x = xs[slot.column - 1]
        y = total_height - ys[slot.row - 1] - heights[slot.row - 1]
        parts.append(_slot(item, rack.dark, x, y, widths[slot.column - 1], heights[slot.row - 1], now, scale, urls))
    kind = "dark" if rack.dark else "open"
    held = sum(1 for s in slots if s["screen"])
    title = f"{rack.name}, {kind}: {held} of {len(slots)} slots taken"
    return picture(total_width, total_height, title, *parts, class_=f"rack rack-{kind}", fixed=True, links=True)


def _grid(slots, scale):
    columns, rows = max(s["slot"].column for s in slots), max(s["slot"].row for s in slots)
    widths, heights = [0.0] * columns, [0.0] * rows
    for item in slots:
        slot = item["slot"]
        widths[slot.column - 1] = max(widths[slot.column - 1], slot.width_mm * scale)
        heights[slot.row - 1] = max(heights[slot.row - 1], slot.height_mm * scale + _LABEL)
    return widths, heights


def _starts(sizes):
    starts, at = [], _GAP
    for size in sizes:
        starts.append(at)
        at += size + _GAP
    return starts, at


def _slot(item, dark, x, y, width, height, now, scale, urls) -> str:
    slot, screen = item["slot"], item["screen"]
    classes = ["slot", "slot-dark" if dark else "slot-open"]
    if item.get("marked"):
        classes.append("slot-marked")
    if item.get("reason"):
        classes.append("slot-unfit")
    parts = [element("rect", x=x, y=y, width=width, height=height, class_=" ".join(classes))]
    if screen:
        sign_width = screen.frame.outer_width_mm * scale * 0.86
        sign = frame_sign(screen, now, sign_width)
        parts.append(element("g", sign, transform=f"translate({x + (width - sign_width) / 2:.1f} {y + 5:.1f})"))
    words = screen.code if screen else slot.code
    parts.append(text(x + width / 2, y + height - 4, words, "slot-code" if screen else "slot-free"))
    url = urls.get(slot.code)
    what = f"Slot {slot.code}: {screen.code if screen else 'free'}"
    body = "".join(parts)
    if url:
        return element("a", body, href=url, aria_label=what, id=f"slot-{slot.code}")
    return element("g", body, id=f"slot-{slot.code}")
