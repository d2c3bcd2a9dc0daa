"""Frame sign: a screen drawn small, the same in lists, rack and passport."""

from functools import lru_cache

from frimble.core.lifecycle import LIVE, State
from frimble.ui.pictures.svg import element, picture

_STENCILLED = {State.WASHED, State.READY, State.AT_PRESS, State.PRINTED, State.STRIPPED, State.FAILED}
_WORDS = {
    "bare": "bare mesh", "coat": "coated", "wet": "coated and wet", "stencil": "with a stencil",
    "ink": "with ink in it", "none": "without mesh",
}  # fmt: skip


def filling(state: str, wet: bool) -> str:
    """What is drawn on the mesh: bare, coat, wet, stencil, ink or none."""
    if state in (State.NO_MESH, State.AWAY):
        return "none"
    if state in LIVE:
        return "wet" if wet else "coat"
    if state == State.EXPOSED:
        return "coat"
    if state in (State.AT_PRESS, State.PRINTED):
        return "ink"
    return "stencil" if state in _STENCILLED else "bare"


def frame_sign(screen, now, width: float = 52) -> str:
    """Frame in real proportion, mesh as a hatch spaced by its count in its thread's colour, filled by what is on it.

    Args:
        screen: anything with frame, mesh, state, coat_colour, code and life.
        width: drawn width of the widest frame, px.
    """
    height = width * screen.frame.outer_height_mm / screen.frame.outer_width_mm
    fill = filling(screen.state, screen.life.wet(now))
    cloth = (screen.mesh.count_per_cm, screen.mesh.colour) if fill != "none" else (0.0, "")
    drawn = _drawn(width, height, screen.frame.material, *cloth, fill, screen.coat_colour)
    title = f"{screen.code}: {screen.mesh}, {_WORDS[fill]}"
    return picture(width, height, title, drawn, class_="frame-sign", fixed=True)


@lru_cache(maxsize=512)  # many screens look alike
def _drawn(width, height, material, count_per_cm, colour, fill, coat_colour) -> str:
    """Frame, well, threads and what is on them."""
    rail = max(3.0, width * 0.075)
    inside = (rail, rail, width - 2 * rail, height - 2 * rail)
    parts = [
        element("rect", x=1, y=1, width=width - 2, height=height - 2, class_=f"frame frame-{material}"),
        element("rect", x=inside[0], y=inside[1], width=inside[2], height=inside[3], class_="frame-well"),
    ]
    if fill != "none":
        parts += [_hatch(inside, count_per_cm, colour), _fill(inside, fill, coat_colour)]
    return "".join(parts)


def _hatch(inside, count_per_cm, colour) -> str:
    """Threads, spaced by the count: ten a sign for the coarsest mesh, forty for the finest would be a grey."""
    x, y, w, h = inside
    gap = max(2.2, 26 / (count_per_cm**0.55))
    lines = []
    for k in range(1, int(w / gap) + 1):
        lines.append(f"M{x + k * gap - gap / 2:.1f} {y:.1f}v{h:.1f}")
    for k in range(1, int(h / gap) + 1):
        lines.append(f"M{x:.1f} {y + k * gap - gap / 2:.1f}h{w:.1f}")
    return element("path", d="".join(lines), class_=f"thread thread-{colour}", fill="none")


def _fill(inside, fill, colour) -> str:
    if fill == "bare":
        return ""
    x, y, w, h = inside
    pad = w * 0.08
    area = {"x": x + pad, "y": y + pad, "width": w - 2 * pad, "height": h - 2 * pad}
    coat = element("rect", **area, fill=colour or "#7FA99B", class_="coat")
    if fill == "coat":
        return coat
    if fill == "wet":
        return coat + "".join(_wave(x + w * 0.2, y + h * part, w * 0.6) for part in (0.35, 0.5, 0.65))
    opening = _pennant(x + w / 2, y + h / 2, w * 0.36)
    return coat + element("path", d=opening, class_="opening" if fill == "stencil" else "inked")


def _wave(x, y, width) -> str:
    step = width / 4
    d = f"M{x:.1f} {y:.1f}" + "".join(f"q{step / 2:.1f} {(-1) ** k * step * 0.6:.1f} {step:.1f} 0" for k in range(4))
    return element("path", d=d, class_="wet-mark", fill="none")


def _pennant(cx, cy, size) -> str:
    left, right, top, bottom = cx - size / 2, cx + size / 2, cy - size * 0.55, cy + size * 0.55
    notch = cx + size * 0.1
    return f"M{left:.1f} {top:.1f}H{right:.1f}L{notch:.1f} {cy:.1f}L{right:.1f} {bottom:.1f}H{left:.1f}Z"
