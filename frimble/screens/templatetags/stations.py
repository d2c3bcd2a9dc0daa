"""What a station leads to, on its own page and on the pages it leads to."""

from django import template

from frimble.screens import links

register = template.Library()


@register.inclusion_tag("screens/stations/station_links.html")
def station_links(name, with_buttons=False):
    """The links of a station; its buttons only where they are asked for."""
    pages = links.of(name)
    buttons = [link for link in pages if link.button] if with_buttons else []
    return {"buttons": buttons, "links": [link for link in pages if not link.button]}
