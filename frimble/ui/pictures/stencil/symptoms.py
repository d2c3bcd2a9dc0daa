"""A small drawing of each symptom: the stencil, what is open in it, and what is wrong; colours come from the style sheet."""

from frimble.core.stencil.diagnosis.codes import Symptom
from frimble.core.stencil.diagnosis.symptoms import SYMPTOMS
from frimble.ui.pictures.svg import element, picture

_WIDTH, _HEIGHT = 72, 48


def _path(kind: str, *lines: str) -> str:
    return element("path", class_=kind, d="".join(lines))


def _box(kind: str, x: float, y: float, width: float, height: float) -> str:
    return element("rect", class_=kind, x=x, y=y, width=width, height=height)


_STENCIL = _box("sy-coat", 0, 0, _WIDTH, _HEIGHT)
_MESH = "".join(_path("sy-thread", f"M{x} 0V{_HEIGHT}") for x in range(6, _WIDTH, 8)) + "".join(
    _path("sy-thread", f"M0 {y}H{_WIDTH}") for y in range(6, _HEIGHT, 8)
)


def _open(x: float, y: float, width: float, height: float) -> str:
    return _box("sy-open", x, y, width, height)


def _shut(x: float, y: float, width: float, height: float) -> str:
    return _box("sy-shut", x, y, width, height)


def _wrong(path: str) -> str:
    """A line that marks what is wrong."""
    return _path("sy-wrong", path)


def _dots(places: tuple[tuple[float, float, float], ...], kind: str) -> str:
    return "".join(element("circle", class_=kind, cx=x, cy=y, r=r) for x, y, r in places)


_IMAGE = _open(20, 12, 32, 24)
_LINES = tuple((x, w) for x, w in ((10, 9), (25, 7), (38, 5), (49, 3), (58, 2)))

_DRAWN = {
    Symptom.FISHEYES: _STENCIL + _dots(((18, 16, 7), (50, 30, 9), (36, 38, 4)), "sy-eye"),
    Symptom.LIGHT_LINES: _STENCIL + "".join(_path("sy-light", f"M{x} 0V{_HEIGHT}") for x in (19, 44, 50)),
    Symptom.BEADS: _STENCIL + _box("sy-thick", 0, 0, 9, 48) + _box("sy-thick", 63, 0, 9, 48),
    Symptom.ALL_WASHES_AWAY: _MESH
    + _path("sy-coat", "M0 48V40Q14 34 26 42T48 41T72 39V48Z")
    + _wrong("M22 8V26M18 21L22 27L26 21M48 8V26M44 21L48 27L52 21"),
    Symptom.LIFTS_IN_SHEETS: _STENCIL
    + _path("sy-open", "M26 0H72V30L50 26L38 34Z")
    + _path("sy-coat sy-edge", "M28 4L60 -2L68 16L36 24Z"),
    Symptom.EDGES_PEEL: _STENCIL
    + _IMAGE
    + _path("sy-thick", "M20 12L31 12L22 21ZM52 36L52 25L43 34ZM52 12L52 20L45 14Z"),
    Symptom.SLIMY: _STENCIL
    + _IMAGE
    + _path(
        "sy-thick",
        "M6 40Q9 34 12 40V46Q9 50 6 46Z",
        "M56 36Q60 28 64 36V44Q60 50 56 44Z",
        "M30 40Q33 34 36 40V45Q33 49 30 45Z",
    ),
    Symptom.IMAGE_WILL_NOT_OPEN: _STENCIL + _shut(20, 12, 32, 24) + _wrong("M30 18L42 30M42 18L30 30"),
    Symptom.OPENS_IN_PARTS: _STENCIL
    + _IMAGE
    + _path("sy-coat", "M36 12H52V36H28Q38 28 36 12Z")
    + _shut(20, 12, 32, 24),
    Symptom.SCUM: _STENCIL + _IMAGE + "".join(_path("sy-veil", f"M{x} 36L{x + 20} 12") for x in (21, 25, 29, 32)),
    Symptom.FINE_OPENINGS_CLOSED: _STENCIL
    + "".join(_open(x, 8, w, 32) for x, w in _LINES[:3])
    + "".join(_shut(x, 8, w, 32) for x, w in _LINES[3:]),
    Symptom.FINE_LINES_LOST: _open(0, 0, _WIDTH, _HEIGHT)
    + "".join(_box("sy-coat", x, 4, w, 40) for x, w in _LINES[:3])
    + _box("sy-coat", 49, 4, 3, 9)
    + _box("sy-coat", 49, 38, 3, 6)
    + _shut(49, 13, 3, 25)
    + _shut(58, 4, 2, 40),
    Symptom.SAW_TOOTH: _open(0, 0, _WIDTH, _HEIGHT)
    + _path("sy-coat", "M0 0H40V6H34V14H44V20H36V28H46V34H38V42H46V48H0Z"),
    Symptom.SOFT_EDGES: _open(0, 0, _WIDTH, _HEIGHT)
    + _box("sy-coat", 0, 0, 28, 48)
    + "".join(_box(f"sy-coat sy-faint-{k}", 28 + 5 * k, 0, 5, 48) for k in range(4)),
    Symptom.PINHOLES: _STENCIL
    + _dots(((12, 10, 2), (30, 20, 2.5), (55, 12, 2), (46, 34, 2.5), (20, 36, 2), (62, 40, 2)), "sy-open"),
    Symptom.ONE_CORNER: _STENCIL
    + _open(8, 8, 10, 10)
    + _open(31, 8, 10, 10)
    + _open(8, 30, 10, 10)
    + _open(31, 30, 10, 10)
    + _open(54, 8, 10, 10)
    + _shut(54, 30, 10, 10)
    + _wrong("M49 25H69V45H49Z"),
    Symptom.DISTORTED: _STENCIL
    + _path("sy-open", "M16 14Q36 4 58 10Q54 26 60 40Q38 34 18 38Q22 26 16 14Z")
    + _shut(20, 12, 32, 24),
    Symptom.BREAKS_DOWN: _STENCIL
    + _IMAGE
    + _path("sy-open", "M50 14L58 11L56 18L61 22L51 24ZM21 30L12 33L15 39L24 41L28 35Z")
    + _dots(((10, 14, 3),), "sy-open"),
    Symptom.HARD_TO_RECLAIM: _MESH
    + _path("sy-coat", "M12 14Q24 4 34 14T30 34Q16 36 12 14Z", "M46 28Q58 22 62 32T48 42Q40 38 46 28Z"),
    Symptom.GHOST: _MESH + _path("sy-ghost", "M18 8H54V18H42V42H30V18H18Z"),
}


def symptom_drawing(symptom: Symptom) -> str:
    """The drawing of a symptom, 72 by 48; its word stands beside it."""
    words = SYMPTOMS[symptom]
    return picture(
        _WIDTH, _HEIGHT, f"{words.label}: {words.look}", _DRAWN[symptom], class_="symptom-picture", fixed=True
    )
