"""Racks as they stand: defining them, and walking along them to see what is where."""

from django.db import transaction
from django.db.models import Count, F, Q

from frimble.core import lifecycle
from frimble.core.conclusions import OutOfRange, Refused, require_between
from frimble.core.storage import racks as rack_rules
from frimble.people import standards
from frimble.screens import actions
from frimble.screens.models import Rack, Screen, Slot

MOST_SLOTS = 400
_OFFERED_FROM = 100


@transaction.atomic
def define(*, code, name, dark, level, cabinet=False, columns, rows, width_mm, height_mm) -> Rack:
    """A rack with its slots, numbered from the lower left.

    Raises:
        OutOfRange: the code exists, or numbers that no rack has.
    """
    code = code.strip().upper()
    if Rack.objects.filter(code=code).exists():
        raise OutOfRange(f"A rack is called {code} already.", "code")
    require_between(columns, 1, 60, "Columns", "columns")
    require_between(rows, 1, 60, "Rows", "rows")
    if columns * rows > MOST_SLOTS:
        raise OutOfRange(f"{columns * rows} slots are more than {MOST_SLOTS}: define it as several racks.", "columns")
    in_force = standards.current()
    for value, field in ((width_mm, "width_mm"), (height_mm, "height_mm")):
        require_between(value, in_force["frame.least_mm"], in_force["frame.most_mm"], "A slot, in mm,", field)
    rack = Rack.objects.create(code=code, name=name, dark=dark, level=level, cabinet=cabinet)
    places = [(c, r) for r in range(1, rows + 1) for c in range(1, columns + 1)]
    digits = max(2, len(str(len(places))))
    Slot.objects.bulk_create(
        Slot(rack=rack, code=f"{code}-{n:0{digits}d}", column=c, row=r, width_mm=width_mm, height_mm=height_mm)
        for n, (c, r) in enumerate(places, start=1)
    )
    return rack


def remove(rack: Rack) -> None:
    """Take down an empty rack.

    Raises:
        OutOfRange: a screen stands in it.
    """
    held = Screen.objects.filter(slot__rack=rack).count()
    if held:
        raise OutOfRange(f"{held} screens stand in {rack}: move them first.", "rack")
    rack.delete()


def read_walk(text: str, rack: Rack) -> dict[str, str]:
    """Screen by slot as scanned: one slot a line, then the screen in it, or nothing for an empty one.

    Raises:
        OutOfRange: a slot that this rack has not, or one scanned twice with different screens; the line is named.
    """
    slots = set(rack.slots.values_list("code", flat=True))
    seen: dict[str, str] = {}
    for number, line in enumerate(text.splitlines(), start=1):
        words = line.upper().replace(",", " ").replace("=", " ").split()
        if not words:
            continue
        slot, screen = words[0], words[1] if len(words) > 1 else ""
        if slot not in slots:
            raise OutOfRange(f"Line {number}: {rack} has no slot {slot}.", "walk")
        if seen.get(slot, screen) != screen:
            raise OutOfRange(f"Line {number}: slot {slot} was scanned twice, with {seen[slot]} and {screen}.", "walk")
        seen[slot] = screen
    if not seen:
        raise OutOfRange("Scan a slot, then the screen in it, and so on along the rack.", "walk")
    return seen


def compare(seen: dict[str, str]) -> rack_rules.StockTake:
    """What was seen against what is written down."""
    screens = Screen.objects.values_list("frame__code", "slot__code")
    recorded = {code: slot or "" for code, slot in screens}
    return rack_rules.stock_take({c: s for c, s in recorded.items() if s}, seen, recorded)


@transaction.atomic
def write_down(seen: dict[str, str], person) -> tuple[int, list[str]]:
    """Bring the records to what was seen: (screens written anew, reasons why some were not).

    Screens are first taken from where they are not, so that two that changed places can be written down.
    """
    found = compare(seen)
    away = [code for code, _ in (*found.misplaced, *found.missing)]
    held = set(Screen.objects.filter(frame__code__in=away, slot__isnull=False).values_list("frame__code", flat=True))
    for code in away:
        if code in held:
            actions.unplace(code, person, summary="Not in its slot at the stock-take")
    at = {code: slot for slot, code in seen.items() if code}
    refused = []
    for code, _ in found.misplaced:
        slot = Slot.objects.select_related("rack", "screen__frame").get(code=at[code])
        try:
            actions.place(code, slot, person, note="Stock-take")
        except Refused as refusal:
            refused.append(refusal.reason)
    return len(away) - len(refused), refused


def best_slot(screen: Screen) -> rack_rules.SlotFacts | None:
    """The slot to offer a screen, of all that are free and large enough."""
    large = max(screen.frame.outer_width_mm, screen.frame.outer_height_mm)
    free = Slot.objects.filter(screen__isnull=True).filter(Q(width_mm__gte=large) | Q(height_mm__gte=large))
    tightest = free.select_related("rack").order_by(F("width_mm") * F("height_mm"), "code")
    # Both lights are looked at: the tightest slot may be in the wrong one.
    slots = [s for dark in (False, True) for s in tightest.filter(rack__dark=dark)[:_OFFERED_FROM]]
    facts = [actions.slot_facts(slot, None) for slot in slots]
    return rack_rules.best_slot(actions.screen_facts(screen), facts, standards.current())


def free_by_size() -> list[tuple[tuple[float, float], bool, int, int]]:
    """(size in mm, dark, free, all) for each kind of slot, small ones first."""
    kind = ("width_mm", "height_mm", "rack__dark")
    counted = Slot.objects.order_by().values_list(*kind).annotate(whole=Count("pk"), taken=Count("screen"))
    return [((w, h), dark, whole - taken, whole) for w, h, dark, whole, taken in sorted(counted)]


def coated_oldest_first():
    """Coated screens in the order in which they should be used."""
    return Screen.objects.for_lists().filter(state=lifecycle.State.COATED).order_by("coated_at")
