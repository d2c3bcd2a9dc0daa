"""Small helpers for drawing SVG: escaped attributes, classes from the theme's tokens, never inline style."""

from functools import cache

from django.utils.html import conditional_escape
from django.utils.safestring import mark_safe


def element(name: str, *children: str, **attributes) -> str:
    """One SVG element. `class_` becomes class; underscores become dashes; None attributes are left out."""
    parts = [f' {_key(key)}="{_shown(value)}"' for key, value in attributes.items() if value is not None]
    return f"<{name}{''.join(parts)}>{''.join(children)}</{name}>"


@cache
def _key(argument: str) -> str:
    return argument.rstrip("_").replace("_", "-")


def _shown(value) -> str:
    """A value as an attribute; numbers have nothing to escape."""
    if isinstance(value, float):
        return f"{value:.2f}".rstrip("0").rstrip(".")
    return str(value) if isinstance(value, int) else conditional_escape(value)


def text(x: float, y: float, words: str, class_: str = "", anchor: str = "middle", size: float | None = None) -> str:
    return element(
        "text",
        str(conditional_escape(words)),
        x=x,
        y=y,
        class_=class_ or None,
        text_anchor=anchor,
        font_size=size,
    )


def tip(words: str) -> str:
    """What a part of a picture says of itself, escaped."""
    return element("title", str(conditional_escape(words)))


def picture(
    width: float, height: float, title: str, *children: str, class_: str = "", fixed: bool = False, links: bool = False
) -> str:
    """A whole picture, described by `title` for those who cannot see it; `fixed` keeps it at its own size in px.

    With `links` inside it is a group, whose parts a screen reader can reach.
    """
    # Written out, since lists hold dozens of pictures.
    said, kind = conditional_escape(title), conditional_escape(f"picture {class_}".strip())
    size = f' width="{_shown(width)}" height="{_shown(height)}"' if fixed else ""
    return mark_safe(  # noqa: S308 - title and class are escaped, and so was every part by `element`
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width:g} {height:g}" role="{"group" if links else "img"}"'
        f' class="{kind}" aria-label="{said}"{size}><title>{said}</title>{"".join(children)}</svg>'
    )
