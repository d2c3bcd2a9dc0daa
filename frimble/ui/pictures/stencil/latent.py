"""The latent image: what had light in its new colour, the image in the old one."""

from frimble.ui.pictures.svg import element, picture

_WIDTH, _HEIGHT = 220, 90
# An image as it lies in the coat: a bold shape, lines, dots.
_SHAPE = "M22 18H74V34H56V72H40V34H22Z"


def latent_image(name: str, before: str, after: str) -> str:
    """How the coat should look between light and wash; without the second colour the image is only outlined."""
    image = [
        element("path", class_="coat latent-image", d=_SHAPE, fill=before),
        *(
            element(
                "rect", class_="coat latent-image", x=96.0 + 13 * k, y=18, width=8.0 - 2 * k, height=54, fill=before
            )
            for k in range(4)
        ),
        *(
            element(
                "circle", class_="coat latent-image", cx=164.0 + 14 * (k % 3), cy=28.0 + 18 * (k // 3), r=5, fill=before
            )
            for k in range(9)
        ),
    ]
    ground = element("rect", class_="coat patch", x=1, y=1, width=_WIDTH - 2, height=_HEIGHT - 2, fill=after or before)
    title = f"Latent image in {name}: image {before}" + (f", round it {after}" if after else ", outlined")
    return picture(_WIDTH, _HEIGHT, title, ground, *image, class_="latent-drawing", fixed=True)
