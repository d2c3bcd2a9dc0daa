"""Where a scanned or typed text leads within the register."""

from frimble.core.conclusions import OutOfRange
from frimble.core.mesh import geometry as mesh_geometry
from frimble.people import standards
from frimble.screens.models import Frame, MeshKind, Slot


def find(text: str):
    """Where a scanned or typed text leads within the register: a URL name with arguments, or None."""
    code = text.strip().upper()
    if Frame.objects.filter(code=code).exists():
        return ("screens:passport", code)
    if Slot.objects.filter(code=code).exists():
        return ("screens:rack", code)
    try:
        spec = mesh_geometry.parse_mesh(text, standards.current())
    except OutOfRange:
        return None
    specs = spec.choices if isinstance(spec, mesh_geometry.Ambiguous) else (spec,)
    for choice in specs:
        kinds = MeshKind.objects.filter(count_per_cm__range=(choice.count_per_cm - 0.4, choice.count_per_cm + 0.4))
        if choice.thread_um:
            kinds = kinds.filter(thread_um=choice.thread_um)
        if choice.colour:
            kinds = kinds.filter(colour=choice.colour)
        if kinds.exists():
            return ("screens:mesh", kinds.first().pk)
    return None
