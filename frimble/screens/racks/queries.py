"""What stands where, what a stock-take found, and which slot to offer."""

from collections import Counter, defaultdict

from django.db.models import Count, F, Q

from frimble.core import lifecycle
from frimble.core.conclusions import InvalidInput
from frimble.core.storage import racks as rack_rules
from frimble.people import settings as house_settings
from frimble.screens.models import Rack, Screen, Slot
from frimble.screens.racks import facts as rack_facts

_OFFERED_FROM = 100


def read_walk(text: str, rack: Rack) -> dict[str, str]:
    """Screen by slot as scanned: one slot a line, then the screen in it, or nothing for an empty one.

    Raises:
        InvalidInput: a slot that this rack has not, or one scanned twice with different screens; the line is named.
    """
    slots = set(rack.slots.values_list("code", flat=True))
    seen: dict[str, str] = {}
    for number, line in enumerate(text.splitlines(), start=1):
        words = line.upper().replace(",", " ").replace("=", " ").split()
        if not words:
            continue
        slot, screen = words[0], words[1] if len(words) > 1 else ""
        if slot not in slots:
            raise InvalidInput(f"Line {number}: {rack} has no slot {slot}.", "walk")
        if seen.get(slot, screen) != screen:
            raise InvalidInput(f"Line {number}: slot {slot} was scanned twice, with {seen[slot]} and {screen}.", "walk")
        seen[slot] = screen
    if not seen:
        raise InvalidInput("Scan a slot, then the screen in it, and so on along the rack.", "walk")
    return seen


def compare(seen: dict[str, str]) -> rack_rules.StockTake:
    """What was seen against what is written down."""
    screens = Screen.objects.values_list("frame__code", "slot__code")
    recorded = {code: slot or "" for code, slot in screens}
    return rack_rules.stock_take({c: s for c, s in recorded.items() if s}, seen, recorded)


def best_slot(screen: Screen) -> rack_rules.SlotFacts | None:
    """The slot to offer a screen, of all that are free and large enough."""
    large = max(screen.frame.outer_width_mm, screen.frame.outer_height_mm)
    free = Slot.objects.filter(screen__isnull=True).filter(Q(width_mm__gte=large) | Q(height_mm__gte=large))
    tightest = free.select_related("rack").order_by(F("width_mm") * F("height_mm"), "code")
    # Both lights are looked at: the tightest slot may be in the wrong one.
    slots = [s for dark in (False, True) for s in tightest.filter(rack__dark=dark)[:_OFFERED_FROM]]
    facts = [rack_facts.slot_facts(slot, None) for slot in slots]
    return rack_rules.best_slot(rack_facts.screen_facts(screen), facts, house_settings.current())


def free_by_size() -> list[tuple[tuple[float, float], bool, int, int]]:
    """(size in mm, dark, free, all) for each kind of slot, small ones first."""
    counted: dict[tuple[float, float, bool], Counter[str]] = defaultdict(Counter)
    # By rack, as the index has it; few racks make the rest.
    by_rack = Slot.objects.order_by().values_list("rack", "width_mm", "height_mm")
    dark_of = dict(Rack.objects.values_list("pk", "dark"))
    for rack, wide, high, whole, taken in by_rack.annotate(whole=Count("pk"), taken=Count("screen")):
        counted[wide, high, dark_of[rack]].update(whole=whole, free=whole - taken)
    return [((wide, high), dark, c["free"], c["whole"]) for (wide, high, dark), c in sorted(counted.items())]


def coated_oldest_first():
    """Coated screens in the order in which they should be used."""
    return Screen.objects.for_lists().filter(state=lifecycle.State.COATED).order_by("coated_at")
