"""Racks defined and taken down, screens put away, and what a stock-take found written down."""

from django.db import transaction

from frimble.core import lifecycle
from frimble.core.conclusions import InvalidInput, RuleViolation, require_between
from frimble.core.numbers import counted
from frimble.core.storage import racks as rack_rules
from frimble.people import settings as house_settings
from frimble.screens import ledger
from frimble.screens.models import Rack, Screen, Slot
from frimble.screens.racks.facts import screen_facts, slot_facts
from frimble.screens.racks.queries import compare


@transaction.atomic
def place(code, slot, person, *, revision=None, note=""):
    """Put a screen into a rack slot.

    Raises:
        RuleViolation: the slot is taken, too small, or open to light under a live coat.
    """
    screen = ledger.lock(code, revision)
    # Held, and looked at again now that nobody else can write to it: another screen may have got it meanwhile.
    Slot.objects.select_for_update().get(pk=slot.pk)
    slot = Slot.objects.select_related("rack", "screen__frame").get(pk=slot.pk)
    if reason := lifecycle.place_refused(screen.life):
        raise RuleViolation(reason)
    if reason := rack_rules.why_not(
        screen_facts(screen), slot_facts(slot, getattr(slot, "screen", None)), house_settings.current()
    ):
        raise RuleViolation(reason, field="slot")
    return ledger.record(
        code,
        "place",
        person,
        revision=revision,
        note=note,
        facts={"slot": slot.code},
        summary=f"Put in slot {slot.code}, {slot.rack}",
    )


def unplace(code, person, *, summary: str, note=""):
    """A screen that is not where it was written down stands nowhere until it is found."""
    return ledger.record(code, "place", person, facts={"slot": ""}, summary=summary, note=note)


MOST_SLOTS = 400


@transaction.atomic
def define(*, code, name, dark, level, cabinet=False, columns, rows, width_mm, height_mm) -> Rack:
    """A rack with its slots, numbered from the lower left.

    Raises:
        InvalidInput: the code exists, or numbers that no rack has.
    """
    code = code.strip().upper()
    if Rack.objects.filter(code=code).exists():
        raise InvalidInput(f"A rack is called {code} already.", "code")
    rack = Rack(code=code, name=name, dark=dark, level=level, cabinet=cabinet)
    slots = laid_out(rack, columns, rows, width_mm, height_mm)
    rack.save()
    Slot.objects.bulk_create(slots)
    return rack


def laid_out(rack: Rack, columns: int, rows: int, width_mm: float, height_mm: float) -> list[Slot]:
    """The slots of a rack that is not kept yet.

    Raises:
        InvalidInput: numbers that no rack has.
    """
    require_between(columns, 1, 60, "Columns", "columns")
    require_between(rows, 1, 60, "Rows", "rows")
    if columns * rows > MOST_SLOTS:
        raise InvalidInput(f"{columns * rows} slots are more than {MOST_SLOTS}: define it as several racks.", "columns")
    settings = house_settings.current()
    for value, field in ((width_mm, "width_mm"), (height_mm, "height_mm")):
        require_between(value, settings["frame.least_mm"], settings["frame.most_mm"], "A slot, in mm,", field)
    places = [(c, r) for r in range(1, rows + 1) for c in range(1, columns + 1)]
    digits = max(2, len(str(len(places))))
    return [
        Slot(rack=rack, code=f"{rack.code}-{n:0{digits}d}", column=c, row=r, width_mm=width_mm, height_mm=height_mm)
        for n, (c, r) in enumerate(places, start=1)
    ]


def change(rack: Rack, *, name: str, dark: bool, level: bool, cabinet: bool) -> Rack:
    """Rename a rack or say how it stands."""
    rack.name, rack.dark, rack.level, rack.cabinet = name, dark, level, cabinet
    rack.save()
    return rack


def remove(rack: Rack) -> None:
    """Take down an empty rack.

    Raises:
        InvalidInput: a screen stands in it.
    """
    held = Screen.objects.filter(slot__rack=rack).count()
    if held:
        raise InvalidInput(f"{counted(held, 'screen stands', 'screens stand')} in {rack}: empty it first.", "rack")
    rack.delete()


@transaction.atomic
def write_down(seen: dict[str, str], person) -> tuple[int, list[str]]:
    """Bring the records to what was seen: (screens written anew, reasons why some were not).

    Screens are first taken from where they are not, so that two that changed places can be written down.
    """
    difference = compare(seen)
    away = [code for code, _ in (*difference.misplaced, *difference.missing)]
    held = set(Screen.objects.filter(frame__code__in=away, slot__isnull=False).values_list("frame__code", flat=True))
    for code in away:
        if code in held:
            unplace(code, person, summary="Not in its slot at the stock-take")
    at = {code: slot for slot, code in seen.items() if code}
    refused = []
    for code, _ in difference.misplaced:
        slot = Slot.objects.select_related("rack", "screen__frame").get(code=at[code])
        try:
            place(code, slot, person, note="Stock-take")
        except RuleViolation as refusal:
            refused.append(refusal.reason)
    return len(away) - len(refused), refused
