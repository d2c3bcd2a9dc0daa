"""Coat section: a cut through mesh and coat to scale, with the emulsion over mesh on both sides against the aim."""

import math

from frimble.ui.pictures.svg import element, picture, text

_WIDTH, _RIGHT, _PITCHES, _MARGIN = 520.0, 330.0, 3, 30.0
_MOST_HIGH = 180.0


def coat_section(geometry, eom, print_share: float, aim_um, measured_um: float | None = None) -> str:
    """The cut, squeegee side above, print side below as it dries.

    Args:
        geometry: pitch_um, thread_um, fabric_thickness_um of the mesh.
        eom: conclusion with value, low, high in µm. print_share: of it that stands on the print side.
        aim_um: (low, high) for ordinary work. measured_um: emulsion over mesh by the gauge, when there is one.
    """
    fabric, shown = geometry.fabric_thickness_um, measured_um or eom.value
    across, down = _RIGHT / (_PITCHES * geometry.pitch_um), _MOST_HIGH / (fabric + max(shown, eom.high, aim_um[1]))
    scale = min(across, down)
    top = _MARGIN + max(eom.high, shown) * (1 - print_share) * scale
    bottom = top + fabric * scale
    above, below = shown * (1 - print_share) * scale, shown * print_share * scale
    parts = [
        element("rect", class_="section-coat", x=0, y=top - above, width=_RIGHT, height=bottom - top + above + below)
    ]
    parts += _cloth(geometry, scale, top, bottom)
    parts += _aim(bottom, aim_um, print_share, scale)
    deepest = bottom + max(below, aim_um[1] * print_share * scale, eom.high * print_share * scale)
    words = [
        (top - above - 10, f"squeegee side, {shown * (1 - print_share):.0f} µm"),
        ((top + bottom) / 2 + 6, f"mesh, {fabric:.0f} µm"),
        (max(bottom + below, (top + bottom) / 2 + 34) + 6, f"print side, {shown * print_share:.0f} µm"),
    ]
    parts += [text(_RIGHT + 16, max(18, y), w, anchor="start", size=16) for y, w in words]
    aims = f"aim {aim_um[0]:.0f} to {aim_um[1]:.0f} µm in all, dashed"
    parts.append(text(0, deepest + 26, aims, "soft", anchor="start", size=15))
    how = "measured" if measured_um else f"expected, {eom.low:.0f} to {eom.high:.0f}"
    title = f"Cut through mesh and coat: {shown:.0f} µm over a mesh of {fabric:.0f} µm, {how}; {aims}"
    return picture(_WIDTH, deepest + 36, title, *parts, class_="coat-section")


def _cloth(geometry, scale, top, bottom):
    """Threads that come towards the eye as rounds, one that runs across as a wave over and under them."""
    d, pitch = geometry.thread_um * scale, geometry.pitch_um * scale
    middle, swing = (top + bottom) / 2, (bottom - top - d) / 2
    count = int(_RIGHT / pitch) + 2
    points = [(x, middle + swing * math.cos(math.pi * x / pitch)) for x in range(0, int(_RIGHT) + 1, 4)]
    yield element(
        "path",
        class_="section-thread-across",
        d="M" + "L".join(f"{x} {y:.1f}" for x, y in points),
        stroke_width=round(d, 1),
    )
    for k in range(count):
        x = k * pitch
        if x + d / 2 <= _RIGHT:
            y = middle - swing * math.cos(math.pi * k)
            yield element("circle", class_="section-thread", cx=x, cy=y, r=d / 2)


def _aim(bottom, aim_um, print_share, scale):
    for um in aim_um:
        y = bottom + um * print_share * scale
        yield element("path", class_="section-aim", d=f"M0 {y:.1f}H{_RIGHT}")
