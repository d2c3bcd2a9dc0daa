"""The placement plan: frame, image area, films, marks and tape, to scale."""

import itertools

from django.utils.safestring import mark_safe

from frimble.ui.pictures.svg import element, picture, text, tip

# On paper there are no themes: black lines, thicker for what must be seen first.
_PAPER = {"fill": "none", "stroke": "black"}
_PAPER_WIDTH = {"frame": 0.6, "image": 0.6}
DASHED = ("area", "tile", "platen")
# A letter of the words takes so much.
_LETTER_MM = 7.4
# What has its name and size written in it.
NAMED = ("image", "tile", "platen", "squeegee", "coater", "mark")


def placement(plan) -> str:
    """The plan for a page, in the theme's colours."""
    bench = plan.bench
    return picture(
        bench.frame_width_mm,
        bench.frame_height_mm,
        _title(plan),
        *_parts(plan, _themed, movable=True),
        class_="placement",
        links=True,
    )


def placement_file(plan) -> str:
    """The plan as a file of its own, sized in mm so that it prints 1:1."""
    width, height = plan.bench.frame_width_mm, plan.bench.frame_height_mm
    svg = element(
        "svg",
        tip(_title(plan)),
        *_parts(plan, _on_paper),
        xmlns="http://www.w3.org/2000/svg",
        viewBox=f"0 0 {width:g} {height:g}",
        width=f"{width:g}mm",
        height=f"{height:g}mm",
    )
    return mark_safe(svg)  # noqa: S308 - every part was escaped by `element`


def _title(plan) -> str:
    number = len(plan.of("image"))
    size = f"{plan.bench.frame_width_mm:.0f} by {plan.bench.frame_height_mm:.0f} mm"
    return f"Plan of a frame of {size} with {number} image{'s' if number != 1 else ''}"


def _themed(what) -> dict:
    return {"class_": f"place-{what}"}


def _on_paper(what) -> dict:
    return _PAPER | {
        "stroke_width": _PAPER_WIDTH.get(what, 0.3),
        "stroke_dasharray": "4 2" if what in DASHED else None,
    }


def _baseline(box) -> float:
    """Where a box's words stand: at its head, a platen's or a part's at its foot, and under one too narrow for them."""
    if box.width_mm < _LETTER_MM * len(words_of(box)):
        return box.y_mm + box.height_mm + 18
    return box.y_mm + (box.height_mm - 8 if box.what in ("platen", "tile") else 18)


def words_of(box) -> str:
    """What is written in a box: an image with its size; a tool's name has it already."""
    return f"{box.name}, {box.width_mm:.0f} × {box.height_mm:.0f} mm" if box.what in ("image", "tile") else box.name


def _parts(plan, look, movable=False):
    numbers = itertools.count()
    for box in plan.boxes:
        shapes = [element("rect", x=box.x_mm, y=box.y_mm, width=box.width_mm, height=box.height_mm, **look(box.what))]
        if box.what == "tape":
            right, low = box.x_mm + box.width_mm, box.y_mm + box.height_mm
            for start, end in ((box.y_mm, low), (low, box.y_mm)):
                shapes.append(element("path", d=f"M{box.x_mm:.1f} {start:.1f}L{right:.1f} {end:.1f}", **look("cross")))
        if box.what in NAMED:
            shapes.append(text(box.x_mm + 6, _baseline(box), words_of(box), anchor="start", size=15))
        yield from [_movable(box, next(numbers), shapes)] if movable and box.what == "image" else shapes
    for x, y in plan.marks:
        yield element("path", d=f"M{x - 5:.1f} {y:.1f}h10M{x:.1f} {y - 5:.1f}v10", **look("cross"))


def _movable(box, number: int, shapes) -> str:
    """An image that a hand or the arrow keys can move; it knows its row of the form."""
    return element(
        "g",
        *shapes,
        class_="movable",
        tabindex=0,
        role="button",
        data_image=number,
        aria_label=f"{words_of(box)}: drag it, or move it with the arrow keys",
    )
