"""How the film lies when the screen is exposed: lamp, film, emulsion, mesh in section, and what is read from each side."""

from frimble.ui.pictures.svg import element, picture, text

_WIDTH, _LEFT, _RIGHT, _TOP = 680, 20, 380, 56
# (class, thickness, words) from the lamp down.
_LAYERS = (
    ("layer-glass", 16, "glass"),
    ("layer-film", 12, "film, its back to the lamp"),
    ("layer-ink", 6, "printed side, on the emulsion"),
    ("layer-coat", 18, "emulsion, print side of the screen"),
    ("layer-mesh", 12, "mesh"),
    ("layer-well", 22, "squeegee side"),
)


def film_layers(transfer: bool) -> str:
    """The section; `transfer` mirrors what is read from the squeegee side."""
    y, parts = _TOP, [text(_LEFT, 18, "light from here", anchor="start", size=16)]
    parts += [element("path", class_="layer-rays", d=f"M{x} 24v{y - 28}") for x in range(40, 380, 40)]
    for name, thickness, _ in _LAYERS:
        parts.append(element("rect", class_=name, x=_LEFT, y=y, width=_RIGHT - _LEFT, height=thickness))
        if name == "layer-ink":
            parts += [
                element("rect", class_="layer-black", x=x, y=y, width=wide, height=thickness)
                for x, wide in ((70, 90), (210, 40), (290, 60))
            ]
        y += thickness
    parts += _words()
    parts += _letters(y, transfer)
    reads = "mirrored" if transfer else "right"
    title = f"Film on the print side, printed side down; from the squeegee side it reads {reads}"
    return picture(_WIDTH, y + 76, title, *parts, class_="layers")


def _words():
    """Each layer's name beside it, spread apart so that thin layers can be told."""
    y = _TOP
    for k, (_, thickness, words) in enumerate(_LAYERS):
        middle, spread = y + thickness / 2, _TOP - 6 + k * 22
        yield element("path", class_="layer-leader", d=f"M{_RIGHT} {middle:.0f}L{_RIGHT + 18} {spread - 5}")
        yield text(_RIGHT + 24, spread, words, anchor="start", size=16)
        y += thickness


def _letters(y: float, transfer: bool):
    """An F as it is read from the squeegee side: mirrored for transfers."""
    letter = text(0, 0, "F", "layer-letter", size=44)
    flip = "scale(-1 1)" if transfer else "scale(1 1)"
    yield element("g", letter, transform=f"translate(60 {y + 50}) {flip}")
    letters = (
        "seen from the squeegee side: mirrored, the transfer turns it"
        if transfer
        else "seen from the squeegee side: reads right"
    )
    yield text(96, y + 44, letters, anchor="start", size=16)
