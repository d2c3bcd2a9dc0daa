"""Draws the plain form controls in Python instead of through a template each: a page of a step test has fifty of them.

The markup is that of Django's own widget templates, which the tests hold it against; anything else goes through them.
"""

from django.forms.renderers import DjangoTemplates
from django.forms.utils import flatatt
from django.utils.html import format_html, format_html_join
from django.utils.safestring import mark_safe


class PlainControls(DjangoTemplates):
    """Django's renderer, with inputs and selects drawn here."""

    def render(self, template_name, context, request=None):
        draw = _DRAWN.get(template_name)
        return draw(context["widget"]) if draw else super().render(template_name, context, request)


def _attributes(widget) -> str:
    # `flatatt` leaves None out, the templates write it; no control here has one.
    return flatatt({name: value if isinstance(value, bool) else str(value) for name, value in widget["attrs"].items()})


def _input(widget) -> str:
    value = "" if widget["value"] is None else format_html(' value="{}"', widget["value"])
    return format_html('<input type="{}" name="{}"{}{}>', widget["type"], widget["name"], value, _attributes(widget))


def _choice(widget) -> str:
    if not widget.get("wrap_label"):
        return _input(widget)
    made_for = format_html(' for="{}"', widget["attrs"]["id"]) if widget["attrs"].get("id") else ""
    return format_html("<label{}>{} {}</label>", made_for, _input(widget), widget["label"])


def _select(widget) -> str:
    groups = mark_safe("".join(_group(name, options) for name, options, _ in widget["optgroups"]))  # noqa: S308
    return format_html('<select name="{}"{}>{}\n</select>', widget["name"], _attributes(widget), groups)


def _group(name, options) -> str:
    drawn = format_html_join("", '\n  <option value="{}"{}>{}</option>', (_option(o) for o in options))
    return format_html('\n  <optgroup label="{}">{}\n  </optgroup>', name, drawn) if name else drawn


def _option(option) -> tuple:
    return option["value"], _attributes(option), option["label"]


_WIDGETS = "django/forms/widgets/"
_DRAWN = (
    {f"{_WIDGETS}{kind}.html": _input for kind in ("text", "hidden", "number", "checkbox", "password", "file", "date")}
    | {f"{_WIDGETS}radio_option.html": _choice, f"{_WIDGETS}checkbox_option.html": _choice}
    | {f"{_WIDGETS}select.html": _select}
)
