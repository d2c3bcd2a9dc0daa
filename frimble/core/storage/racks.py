"""Racks: whether a screen may go into a slot."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from frimble.core.conclusions import Settings


@dataclass(frozen=True)
class SlotFacts:
    """A slot as the rule needs it: code, clear width and height in mm, dark or open, level or not, who is in it,
    and whether it is in a drying cabinet."""

    code: str
    width_mm: float
    height_mm: float
    dark: bool
    taken_by: str = ""
    level: bool = True
    cabinet: bool = False


@dataclass(frozen=True)
class ScreenFacts:
    """A screen as the rule needs it: code, outer size in mm, whether its mesh carries live emulsion, and whether that is
    wet."""

    code: str
    width_mm: float
    height_mm: float
    live_emulsion: bool
    wet: bool = False


def why_not(screen: ScreenFacts, slot: SlotFacts, settings: Settings) -> str:
    """The reason the screen may not go into the slot, or an empty string when it may."""
    if slot.taken_by and slot.taken_by != screen.code:
        return f"Slot {slot.code} holds {slot.taken_by}. Choose a free slot or move {slot.taken_by} first."
    if screen.live_emulsion and not slot.dark:
        return f"{screen.code} carries unexposed emulsion and slot {slot.code} is open to light. Choose a dark slot."
    if slot.cabinet and not screen.live_emulsion:
        return (
            f"Slot {slot.code} is in the drying cabinet, which is for coated screens: water of a rinsed mesh dampens its "
            "air. Dry bare mesh before a fan."
        )
    if screen.wet and screen.live_emulsion and not slot.level:
        return f"The coat on {screen.code} is wet and slot {slot.code} stands upright: lay it level, print side down."
    clearance = settings["storage.clearance_mm"]
    small, large = sorted((screen.width_mm, screen.height_mm))
    slot_small, slot_large = sorted((slot.width_mm, slot.height_mm))
    if small + clearance > slot_small or large + clearance > slot_large:
        return (
            f"{screen.code} measures {screen.width_mm:.0f} × {screen.height_mm:.0f} mm and slot {slot.code} takes "
            f"{slot.width_mm:.0f} × {slot.height_mm:.0f} mm with {clearance:g} mm to spare."
        )
    return ""


def best_slot(screen: ScreenFacts, slots: Iterable[SlotFacts], settings: Settings) -> SlotFacts | None:
    """The slot to offer: the tightest that takes the screen, in the cabinet while its coat is wet, open where it may be."""
    fits = [s for s in slots if not s.taken_by and not why_not(screen, s, settings)]
    warm = screen.wet and screen.live_emulsion
    order = lambda s: (s.cabinet != warm, s.dark != screen.live_emulsion, s.width_mm * s.height_mm, s.code)  # noqa: E731
    return min(fits, key=order, default=None)


@dataclass(frozen=True)
class StockTake:
    """What a walk along the rack found: missing and misplaced screens with words, codes nobody knows, and what agrees."""

    right: tuple[str, ...]
    misplaced: tuple[tuple[str, str], ...]
    missing: tuple[tuple[str, str], ...]
    unknown: tuple[tuple[str, str], ...]
    empty: tuple[str, ...]


def stock_take(recorded: Mapping[str, str], seen: Mapping[str, str], known: Iterable[str]) -> StockTake:
    """Compare a rack with its records.

    Args:
        recorded: slot by screen code as written down. seen: screen code by slot as scanned, "" for a slot seen empty; slots
            not walked past are left out. known: codes of every screen of the shop.
    """
    known = set(known)
    found_at = {code: slot for slot, code in seen.items() if code}
    right = tuple(sorted(code for code, slot in found_at.items() if recorded.get(code) == slot))
    misplaced = tuple(
        (code, f"stands in {slot}, written down in {recorded[code] if recorded.get(code) else 'no slot'}")
        for code, slot in sorted(found_at.items())
        if code in known and recorded.get(code) != slot
    )
    missing = tuple(
        (code, f"written down in {slot}, which {f'holds {seen[slot]}' if seen[slot] else 'is empty'}")
        for code, slot in sorted(recorded.items())
        if slot in seen and code not in found_at
    )
    unknown = tuple((code, slot) for code, slot in sorted(found_at.items()) if code not in known)
    return StockTake(right, misplaced, missing, unknown, tuple(sorted(s for s, code in seen.items() if not code)))
