"""Pictures of symptoms in templates."""

from django import template
from django.utils.safestring import mark_safe

from frimble.core.stencil.diagnosis.codes import Symptom
from frimble.stencils.diagnosis import pictures

register = template.Library()


@register.simple_tag
def symptom_picture(code):
    """The drawing of a symptom; its word stands beside it."""
    size = f'viewBox="0 0 {pictures.WIDTH} {pictures.HEIGHT}" width="{pictures.WIDTH}" height="{pictures.HEIGHT}"'
    # Nothing that anybody typed is in it.
    return mark_safe(f'<svg class="symptom-picture" {size} aria-hidden="true">{pictures.drawing(Symptom(code))}</svg>')  # noqa: S308
