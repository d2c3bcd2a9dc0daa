"""Draws the plain form controls in Python instead of through a template each: a page of a step test has fifty of them.

The markup is that of Django's own widget templates, which the tests hold it against; anything else goes through them.
"""

from django.forms.renderers import DjangoTemplates
from django.utils.html import conditional_escape
from django.utils.safestring import mark_safe


class PlainControls(DjangoTemplates):
    """Django's renderer, with inputs and selects drawn here."""

    def render(self, template_name, context, request=None):
        draw = _DRAWN.get(template_name)
        if draw is None:
            return super().render(template_name, context, request)
        return mark_safe(draw(context["widget"]))  # noqa: S308 - every part was escaped by `_attribute` or as a label


def _attribute(name: str, value) -> str:
    return f' {name}="{conditional_escape(value)}"'


def _attributes(widget) -> str:
    """Those of the control itself, of which flags are there or not."""
    shown = [(name, value) for name, value in widget["attrs"].items() if value is not False]
    return "".join([f" {name}" if value is True else _attribute(name, value) for name, value in shown])


def _input(widget) -> str:
    named = _attribute("type", widget["type"]) + _attribute("name", widget["name"])
    value = "" if widget["value"] is None else _attribute("value", widget["value"])
    return f"<input{named}{value}{_attributes(widget)}>"


def _choice(widget) -> str:
    if not widget.get("wrap_label"):
        return _input(widget)
    made_for = _attribute("for", widget["attrs"]["id"]) if widget["attrs"].get("id") else ""
    return f"<label{made_for}>{_input(widget)} {conditional_escape(widget['label'])}</label>"


def _select(widget) -> str:
    groups = "".join([_group(name, options) for name, options, _ in widget["optgroups"]])
    return f"<select{_attribute('name', widget['name'])}{_attributes(widget)}>{groups}\n</select>"


def _group(name, options) -> str:
    drawn = "".join([_option(option) for option in options])
    return f"\n  <optgroup{_attribute('label', name)}>{drawn}\n  </optgroup>" if name else drawn


def _option(option) -> str:
    attributes = _attribute("value", option["value"]) + _attributes(option)
    return f"\n  <option{attributes}>{conditional_escape(option['label'])}</option>"


_WIDGETS = "django/forms/widgets/"
_DRAWN = (
    {f"{_WIDGETS}{kind}.html": _input for kind in ("text", "hidden", "number", "checkbox", "password", "file", "date")}
    | {f"{_WIDGETS}radio_option.html": _choice, f"{_WIDGETS}checkbox_option.html": _choice}
    | {f"{_WIDGETS}select.html": _select}
)
