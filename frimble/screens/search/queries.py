"""Finding screens by what they are, where they stand and what is due; and where a scanned text leads."""

from dataclasses import dataclass
from datetime import timedelta

from django.db.models import Q
from django.utils import timezone

from frimble.core import lifecycle
from frimble.core.conclusions import InvalidInput
from frimble.core.mesh import geometry as mesh_geometry
from frimble.core.tension.limits import kinds_with_own_limit
from frimble.people import settings as house_settings
from frimble.screens.models import Frame, MeshType, Screen, Slot

DUE = {
    "tension": "tension to be measured", "slack": "tension under the limit", "old_coat": "coated too long ago",
    "place": "bare and in no slot", "reclaim": "to reclaim",
}  # fmt: skip


ORDERS = {"code": "code", "tension": "slackest first", "cycles": "most used first", "since": "longest in its state"}


_ORDER_BY = {
    "code": ["frame__code"], "tension": ["tension_n_per_cm", "frame__code"], "cycles": ["-cycles", "frame__code"],
    "since": ["since", "frame__code"],
}  # fmt: skip


_SIZE_WITHIN_MM = 5


@dataclass(frozen=True)
class SearchRequest:
    """What is looked for; everything may be left empty. Sizes in mm, tensions in N/cm."""

    text: str = ""
    mesh: object = None
    state: str = ""
    size: tuple[float, float] | None = None
    rack: object = None
    least: float | None = None
    most: float | None = None
    due: str = ""
    order: str = "code"


def search(wanted: SearchRequest):
    """Screens that answer, in the order asked for.

    Raises:
        InvalidInput: a least above the most.
    """
    if wanted.least is not None and wanted.most is not None and wanted.least > wanted.most:
        raise InvalidInput("The least tension is above the most.", "least")
    screens = Screen.objects.for_lists().filter(_text(wanted.text), _due(wanted.due))
    if wanted.mesh:
        screens = screens.filter(installation__mesh=wanted.mesh)
    if wanted.state:
        screens = screens.filter(state=wanted.state)
    if wanted.size:
        screens = screens.filter(_size(*wanted.size))
    if wanted.rack:
        screens = screens.filter(slot__rack=wanted.rack)
    if wanted.least is not None:
        screens = screens.filter(tension_n_per_cm__gte=wanted.least)
    if wanted.most is not None:
        screens = screens.filter(tension_n_per_cm__lte=wanted.most)
    return screens.order_by(*_ORDER_BY[wanted.order])


def _text(text: str) -> Q:
    """A code's beginning, a slot, or a mesh as people write it."""
    code = text.strip().upper()
    if not code:
        return Q()
    answers = Q(frame__code__startswith=code) | Q(slot__code=code)
    try:
        spec = mesh_geometry.parse_mesh(text, house_settings.current())
    except InvalidInput:
        return answers
    for choice in spec.choices if isinstance(spec, mesh_geometry.Ambiguous) else (spec,):
        near = Q(installation__mesh__count_per_cm__range=(choice.count_per_cm - 0.4, choice.count_per_cm + 0.4))
        answers |= near & Q(installation__mesh__thread_um=choice.thread_um) if choice.thread_um else near
    return answers


def _size(width_mm: float, height_mm: float) -> Q:
    def near(side, value):
        return Q(**{f"frame__outer_{side}_mm__range": (value - _SIZE_WITHIN_MM, value + _SIZE_WITHIN_MM)})

    return (near("width", width_mm) & near("height", height_mm)) | (near("width", height_mm) & near("height", width_mm))


def slack_below(settings) -> Q:
    """Screens that are slack, each by the limit of its kind of frame."""
    own = kinds_with_own_limit(settings)
    slack = Q(tension_n_per_cm__lt=settings["tension.poor_below"]) & ~Q(frame__material__in=list(own))
    for material, limit in own.items():
        slack |= Q(frame__material=material, tension_n_per_cm__lt=limit)
    return slack


def _due(name: str) -> Q:
    if not name:
        return Q()
    settings, now = house_settings.current(), timezone.now()
    if name == "tension":
        old = now - timedelta(days=settings["tension.recheck_days"])
        has_mesh = ~Q(state__in=[lifecycle.State.NO_MESH, lifecycle.State.AWAY])
        return has_mesh & (Q(tension_at__isnull=True) | Q(tension_at__lt=old))
    if name == "slack":
        return slack_below(settings)
    if name == "old_coat":
        old = now - timedelta(days=settings["coat.keeps_days"])
        return Q(state=lifecycle.State.COATED, coated_at__lt=old)
    if name == "place":
        return Q(state=lifecycle.State.BARE, slot__isnull=True)
    return Q(state__in=[lifecycle.State.PRINTED, lifecycle.State.STRIPPED, lifecycle.State.FAILED])


def find(text: str):
    """Where a scanned or typed text leads within the register: a URL name with arguments, or None."""
    code = text.strip().upper()
    if Frame.objects.filter(code=code).exists():
        return ("screens:passport", code)
    if Slot.objects.filter(code=code).exists():
        return ("screens:rack", code)
    try:
        spec = mesh_geometry.parse_mesh(text, house_settings.current())
    except InvalidInput:
        return None
    specs = spec.choices if isinstance(spec, mesh_geometry.Ambiguous) else (spec,)
    for choice in specs:
        kinds = MeshType.objects.filter(count_per_cm__range=(choice.count_per_cm - 0.4, choice.count_per_cm + 0.4))
        if choice.thread_um:
            kinds = kinds.filter(thread_um=choice.thread_um)
        if choice.colour:
            kinds = kinds.filter(colour=choice.colour)
        if kinds.exists():
            return ("screens:mesh", kinds.first().pk)
    return None
