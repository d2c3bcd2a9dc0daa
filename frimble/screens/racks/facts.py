"""Screens and slots as the core's rule of racks takes them."""

from collections.abc import Iterator

from django.db.models import Count

from frimble.core import lifecycle
from frimble.core.storage import racks as rack_rules
from frimble.people import moments
from frimble.screens.models import Screen, Slot


def screen_facts(screen: Screen) -> rack_rules.ScreenFacts:
    return rack_rules.ScreenFacts(
        screen.code,
        screen.frame.outer_width_mm,
        screen.frame.outer_height_mm,
        lifecycle.State(screen.state) in lifecycle.LIVE,
        screen.life.wet(moments.now()),
    )


def slot_facts(slot, holder: Screen | None) -> rack_rules.SlotFacts:
    """The core's value of a slot, and of the screen that stands in it."""
    return rack_rules.SlotFacts(
        slot.code,
        slot.width_mm,
        slot.height_mm,
        slot.rack.dark,
        holder.code if holder else "",
        slot.rack.level,
        slot.rack.cabinet,
    )


def free_slots() -> Iterator[tuple[rack_rules.SlotFacts, int]]:
    """Each kind of slot that is free, without a code, and how many there are of it."""
    kind = ("width_mm", "height_mm", "rack__dark", "rack__level", "rack__cabinet")
    kinds = Slot.objects.filter(screen__isnull=True).order_by().values(*kind).annotate(number=Count("pk"))
    for width, height, dark, level, cabinet, number in kinds.values_list(*kind, "number"):
        yield rack_rules.SlotFacts("", width, height, dark, level=level, cabinet=cabinet), number
