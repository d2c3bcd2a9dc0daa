"""A day from plain data, checked."""

from collections import defaultdict
from collections.abc import Mapping
from datetime import datetime
from typing import Any

from frimble.core.conclusions import InvalidInput
from frimble.core.planning.day import Day, ScreenWork, Shift, Step

# A plan reaches over some days at most; more is a slip in a date.
_LONGEST_DAY_MIN = 7 * 1440
_HEAVIEST = 100_000


def read_day(written: object) -> Day:
    """A day from an object as JSON has it: start, end, overtime, people, stations, screens.

    Raises:
        InvalidInput: it has not this shape, or names what it does not have.
    """
    plain = _object(written, "A day")
    start = _moment(plain.get("start"), "start")
    clock = _Clock(start)
    end = clock.minutes(plain.get("end"), "end")
    if not 0 < end <= _LONGEST_DAY_MIN:
        raise InvalidInput("The day ends after it starts, and within a week.", "end")
    places = _places(_list(plain, "stations"))
    shifts = [s for person in _list(plain, "people") for s in _shift(clock, person)]
    overtime = _yes_no(plain, "overtime", default=False)
    screens = tuple(_screen(clock, screen, overtime) for screen in _list(plain, "screens"))
    _check_screens(screens, places)
    return Day(start, end, tuple(shifts), places, screens)


class _Clock:
    """Moments as whole minutes after the day's start."""

    def __init__(self, start: datetime) -> None:
        self._start = start

    def minutes(self, written: Any, field: str) -> int:
        moment = _moment(written, field)
        if (moment.tzinfo is None) != (self._start.tzinfo is None):
            raise InvalidInput(f"{field}: times all name their zone, or none does.", field)
        seconds = (moment - self._start).total_seconds()
        if seconds % 60:
            raise InvalidInput(f"{field}: {written} is no whole minute.", field)
        return int(seconds // 60)

    def minutes_or_none(self, written: Any, field: str) -> int | None:
        return None if written is None else self.minutes(written, field)


def _shift(clock: _Clock, written: object) -> list[Shift]:
    person = _object(written, "A person")
    name = _text(person, "name", "A person")
    start, end = (clock.minutes(person.get(key), f"{name}, {key}") for key in ("from", "to"))
    if end <= start:
        raise InvalidInput(f"{name}: the hours end before they begin.", "people")
    skills = person.get("skills", [])
    if not isinstance(skills, list) or not all(isinstance(s, str) for s in skills):
        raise InvalidInput(f"{name}: skills are a list of kinds of steps.", "people")
    return [Shift(name, max(start, 0), end, frozenset(skills))] if end > 0 else []


def _places(written: list[Any]) -> dict[str, int]:
    places: dict[str, int] = {}
    for station in written:
        plain = _object(station, "A station")
        name = _text(plain, "name", "A station")
        if name in places:
            raise InvalidInput(f"Two stations are named {name}.", "stations")
        places[name] = _whole(plain.get("capacity", 1), f"{name}, capacity")
    return places


def _screen(clock: _Clock, written: object, overtime: bool) -> ScreenWork:
    plain = _object(written, "A screen")
    code = _text(plain, "code", "A screen")
    steps = tuple(_step(code, step) for step in _list(plain, "steps"))
    if not steps:
        raise InvalidInput(f"{code} has no steps.", "screens")
    ready = clock.minutes_or_none(plain.get("ready"), f"{code}, ready")
    due = clock.minutes_or_none(plain.get("due"), f"{code}, due")
    own = _yes_no(plain, "overtime", default=overtime)
    return ScreenWork(code, steps, due, max(ready or 0, 0), _weight(plain.get("weight", 1), code), own)


def _step(code: str, written: object) -> Step:
    plain = _object(written, f"{code}: a step")
    within = plain.get("start_within")
    load = plain.get("batch")
    return Step(
        kind=_text(plain, "kind", f"{code}: a step"),
        minutes=_whole(plain.get("minutes"), f"{code}, minutes"),
        workstation=None if plain.get("station") is None else _text(plain, "station", f"{code}: a step"),
        hands=_yes_no(plain, "hands", default=False),
        load=None if load is None else str(load),
        start_within=None if within is None else _whole(within, f"{code}, start_within"),
    )


def _check_screens(screens: tuple[ScreenWork, ...], places: Mapping[str, int]) -> None:
    seen: set[str] = set()
    loads: dict[str, set[tuple[object, ...]]] = defaultdict(set)
    for screen in screens:
        if screen.code in seen:
            raise InvalidInput(f"Two screens are named {screen.code}.", "screens")
        seen.add(screen.code)
        for step in screen.steps:
            if step.workstation is not None and step.workstation not in places:
                raise InvalidInput(f"{screen.code}: there is no station {step.workstation}.", "stations")
            if step.load is not None:
                loads[step.load].add((step.kind, step.workstation, step.minutes, step.hands))
    for load, kinds in loads.items():
        if len(kinds) > 1:
            raise InvalidInput(f"Steps of batch {load} differ in kind, station, minutes or hands.", "screens")


def _object(written: object, what: str) -> Mapping[str, Any]:
    if not isinstance(written, Mapping):
        raise InvalidInput(f"{what} is an object with named values.")
    return written


def _list(plain: Mapping[str, Any], name: str) -> list[Any]:
    value = plain.get(name)
    if not isinstance(value, list):
        raise InvalidInput(f"{name} is a list.", name)
    return value


def _text(plain: Mapping[str, Any], name: str, what: str) -> str:
    value = plain.get(name)
    if not isinstance(value, str) or not value:
        raise InvalidInput(f"{what} names its {name}.", name)
    return value


def _yes_no(plain: Mapping[str, Any], name: str, default: bool) -> bool:
    value = plain.get(name)
    if value is None:
        return default
    if not isinstance(value, bool):
        raise InvalidInput(f"{name} is true or false.", name)
    return bool(value)


def _whole(value: Any, what: str) -> int:
    number = isinstance(value, int | float) and not isinstance(value, bool)
    if not number or not 0 <= value <= _LONGEST_DAY_MIN or value != int(value):
        raise InvalidInput(f"{what} is a whole number from 0 to {_LONGEST_DAY_MIN}.")
    return int(value)


def _weight(value: Any, code: str) -> float:
    number = isinstance(value, int | float) and not isinstance(value, bool)
    if not number or not 0 <= value <= _HEAVIEST:
        raise InvalidInput(f"{code}: weight is a number from 0 to {_HEAVIEST}.", "weight")
    return int(value) if value == int(value) else float(value)


def _moment(written: Any, field: str) -> datetime:
    try:
        return datetime.fromisoformat(written)
    except (TypeError, ValueError):
        raise InvalidInput(f"{field}: {written!r} is no time such as 2026-05-04T07:00.", field) from None
