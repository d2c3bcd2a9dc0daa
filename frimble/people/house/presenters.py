"""The house settings as their page shows them: by station, folded, and searched."""

from dataclasses import dataclass
from typing import Any

from frimble.core.numbers import counted
from frimble.core.settings import GROUPS, REGISTER, HouseSettings, Setting
from frimble.people.models import HouseSetting


@dataclass(frozen=True)
class Problem:
    """What was wrong with a change, and what was typed."""

    key: str
    field: str
    message: str
    value: str
    reason: str


@dataclass(frozen=True)
class SettingRow:
    """One setting: its value in words, who changed it, its history, and what stands in its fields."""

    item: Setting
    shown: str
    changed: HouseSetting | None
    history: list[Any]
    typed: Any
    typed_reason: str
    problem: Problem | None
    changing: bool


@dataclass(frozen=True)
class Group:
    """The settings of one station; open where somebody looks for one of them, or one was refused."""

    title: str
    rows: list[SettingRow]
    words: str
    open: bool


def groups(
    settings: HouseSettings, sought: str = "", problem: Problem | None = None, changing: str = ""
) -> list[Group]:
    """All groups in the order of the work, or those with settings that hold the sought words; one stands to be changed."""
    changed = {row.key: row for row in HouseSetting.objects.select_related("changed_by")}
    past: dict[str, list[Any]] = {}
    for entry in HouseSetting.history.select_related("changed_by"):
        past.setdefault(entry.key, []).append(entry)
    rows: dict[str, list[SettingRow]] = {}
    for item in REGISTER.values():
        if _holds(item, sought):
            row = _row(item, settings, changed, past, problem, item.key == changing)
            rows.setdefault(item.group, []).append(row)
    return [_group(title, rows[key], bool(sought)) for key, title in GROUPS.items() if key in rows]


def _holds(item: Setting, sought: str) -> bool:
    words = " ".join((item.label, item.reason, item.key, GROUPS[item.group])).casefold()
    return all(word in words for word in sought.casefold().split())


def _row(item, settings, changed, past, problem, changing) -> SettingRow:
    own = problem if problem and problem.key == item.key else None
    value = own.value if own else settings[item.key]
    reason = own.reason if own else ""
    shown = item.shown(settings[item.key]) or "none"
    return SettingRow(
        item, shown, changed.get(item.key), past.get(item.key, []), value, reason, own, changing or own is not None
    )


def _group(title: str, rows: list[SettingRow], sought: bool) -> Group:
    own = sum(row.changed is not None for row in rows)
    words = counted(len(rows), "setting") + (f", {own} of your own" if own else "")
    return Group(title, rows, words, sought or any(row.changing for row in rows))
