"""Tabs: pages or forms of one thing, of which one is shown."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Tab:
    """One tab: its words, where it leads, and whether it is the one shown."""

    words: str
    url: str
    here: bool = False
