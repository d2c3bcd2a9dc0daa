"""What a station leads to, on its own page and on the pages it leads to."""

from django import template

from frimble.screens import links

register = template.Library()


@register.inclusion_tag("screens/stations/station_links.html")
def station_links(name, with_buttons=False):
    """The links of a station; its buttons only where they are asked for."""
    return {"links": [link for link in links.of(name) if with_buttons or not link.button]}
