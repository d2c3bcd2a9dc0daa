"""Racks: whether a screen may go into a slot."""

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True)
class SlotFacts:
    """A slot as the rule needs it: its code, clear width and height in mm, dark or open, and who stands in it."""

    code: str
    width_mm: float
    height_mm: float
    dark: bool
    taken_by: str = ""


@dataclass(frozen=True)
class ScreenFacts:
    """A screen as the rule needs it: code, outer size in mm, and whether its mesh carries live emulsion."""

    code: str
    width_mm: float
    height_mm: float
    live_emulsion: bool


def why_not(screen: ScreenFacts, slot: SlotFacts, standards: Mapping) -> str:
    """The reason the screen may not go into the slot, or an empty string when it may."""
    if slot.taken_by and slot.taken_by != screen.code:
        return f"Slot {slot.code} holds {slot.taken_by}. Choose a free slot or move {slot.taken_by} first."
    if screen.live_emulsion and not slot.dark:
        return f"{screen.code} carries unexposed emulsion and slot {slot.code} is open to light. Choose a dark slot."
    clearance = standards["storage.clearance_mm"]
    small, large = sorted((screen.width_mm, screen.height_mm))
    slot_small, slot_large = sorted((slot.width_mm, slot.height_mm))
    if small + clearance > slot_small or large + clearance > slot_large:
        return (
            f"{screen.code} measures {screen.width_mm:.0f} × {screen.height_mm:.0f} mm and slot {slot.code} takes "
            f"{slot.width_mm:.0f} × {slot.height_mm:.0f} mm with {clearance:g} mm to spare."
        )
    return ""
