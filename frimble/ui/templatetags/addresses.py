"""`{% url %}` for every template, of addresses that are put together once."""

from django import template
from django.template.defaulttags import URLNode
from django.template.defaulttags import url as read
from django.urls import NoReverseMatch
from django.utils.html import conditional_escape

from frimble.ui.addresses import address

register = template.Library()


class AddressNode(URLNode):
    """As Django's own; no address of ours depends on the page that it stands on."""

    def render(self, context):
        args = [arg.resolve(context) for arg in self.args]
        kwargs = {name: value.resolve(context) for name, value in self.kwargs.items()}
        try:
            found = address(self.view_name.resolve(context), *args, **kwargs)
        except NoReverseMatch:
            if self.asvar is None:
                raise
            found = ""
        if self.asvar is None:
            return conditional_escape(found)
        context[self.asvar] = found
        return ""


@register.tag
def url(parser, token) -> AddressNode:
    """The address of a named page: `{% url name argument … [as variable] %}`."""
    node = read(parser, token)
    return AddressNode(node.view_name, node.args, node.kwargs, node.asvar)
