"""A drill's scene as SVG: each tone is a class of the theme."""

from frimble.core.training.scene import Box, Disc, Scene, Shape, Stroke, Words
from frimble.ui.pictures.svg import element, picture, text


def scene_picture(scene: Scene) -> str:
    return picture(
        scene.wide, scene.high, scene.words, *(_drawn(shape) for shape in scene.shapes), class_="drill-scene"
    )


def _drawn(shape: Shape) -> str:
    if isinstance(shape, Words):
        return text(shape.x, shape.y, shape.text, f"tone-{shape.tone}-word", shape.anchor, shape.size)
    if isinstance(shape, Stroke):
        ends = {"x1": shape.x1, "y1": shape.y1, "x2": shape.x2, "y2": shape.y2}
        return element("line", **ends, stroke_width=shape.wide, class_=f"tone-{shape.tone}-line")
    class_ = f"tone-{shape.tone}-line" if shape.outline else f"tone-{shape.tone}"
    if isinstance(shape, Disc):
        return element("circle", cx=shape.x, cy=shape.y, r=shape.radius, class_=class_)
    assert isinstance(shape, Box)
    return element("rect", x=shape.x, y=shape.y, width=shape.wide, height=shape.high, class_=class_)
