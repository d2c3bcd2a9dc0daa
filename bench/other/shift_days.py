"""Days of rooms that work otherwise than those of `days`: two shifts of specialists, dues in waves, long-tailed times.

Kept out of tuning: made for figures alone.
"""

import random
from datetime import datetime, timedelta

_START = datetime(2026, 9, 14, 6)
_LENGTH = 840
_BREAK_MIN, _HALF = 20, 420
# Who does what in one shift; a small room has only the first of them, who do everything.
_SPECIALISTS = (("reclaim", "degrease"), ("coat", "film"), ("expose", "wash", "tape"), ("wash", "tape", "reclaim"))


def day(seed: int, screens: int | None = None) -> dict:
    """A day to plan, as `days.day`.

    Args:
        seed: the same seed, the same day. screens: how many, 10 to 60 by chance where None.
    """
    rng = random.Random(f"shifts {seed}")
    number = screens or rng.randint(10, 60)
    waves = sorted(rng.sample(range(120, _LENGTH + 60, 20), rng.randint(2, 4)))
    return {
        "start": _at(0),
        "end": _at(_LENGTH),
        "overtime": False,
        "people": _people(rng, number),
        "stations": [
            {"name": "trough", "capacity": rng.randint(1, 2)},
            {"name": "racks", "capacity": rng.randint(6, 8 + number // 3)},
            {"name": "table", "capacity": 1},
            {"name": "unit", "capacity": rng.choice([1, 1, 2])},
            {"name": "booth", "capacity": rng.choice([1, 2])},
        ],
        "screens": [_screen(rng, k, waves) for k in range(number)],
    }


def _at(minutes):
    return (_START + timedelta(minutes=minutes)).isoformat(timespec="minutes")


def _people(rng, number):
    people = []
    for shift in (0, 1):
        hands = max(1, min(4, round(number / rng.uniform(12, 24))))
        for k in range(hands):
            skills = _SPECIALISTS[k] if hands > 2 else tuple(sorted({s for own in _SPECIALISTS for s in own}))
            start, pause = shift * _HALF, shift * _HALF + rng.randint(150, 240)
            name = f"{'early' if shift == 0 else 'late'} {k + 1}"
            for begin, end in ((start, pause), (pause + _BREAK_MIN, start + _HALF)):
                people.append({"name": name, "from": _at(begin), "to": _at(end), "skills": list(skills)})
    return people


def _screen(rng, k, waves):
    steps = _new_screen(rng) if rng.random() < 0.6 else _coated_screen(rng, k)
    if rng.random() < 0.12:
        # Under way when the day starts.
        steps = steps[next(n for n, s in enumerate(steps) if not s["hands"]) :]
        steps[0] |= {"start_within": 0 if k % 12 < 5 else None, "minutes": max(1, steps[0]["minutes"] // 2)}
    return {
        "code": f"N{k:02d}",
        "due": None if rng.random() < 0.2 else _at(rng.choice(waves)),
        "ready": _at(rng.choice([60, _HALF])) if rng.random() < 0.2 and steps[0]["start_within"] is None else None,
        "weight": rng.choice([0.5, 1, 1, 1, 4, 10]),
        "steps": steps,
    }


def _new_screen(rng):
    """Reclaimed, degreased, coated once to three times, exposed alone."""
    steps = [
        _step("reclaim", _minutes(rng, 10), "trough"),
        _step("degrease", _minutes(rng, 5), "trough", within=rng.choice([None, 15])),
        _step("dry", _minutes(rng, 18), "racks", hands=False),
    ]
    for layer in range(rng.choice([1, 1, 2, 3])):
        steps += [
            _step("coat", _minutes(rng, 4), "table", within=None if layer == 0 else 120),
            _step("dry", _minutes(rng, 55), "racks", hands=False, within=2),
        ]
    return [*steps, _step("film", _minutes(rng, 8), None), *_to_press(rng, _minutes(rng, 4))]


def _coated_screen(rng, k):
    """From stock; three frames lie under the light together."""
    return _to_press(rng, 6, batch=f"frames {k // 6}")


def _to_press(rng, light, batch=None):
    return [
        _step("expose", light, "unit", batch=batch),
        _step("wash", _minutes(rng, 7), "booth", within=45),
        _step("dry", _minutes(rng, 25), "racks", hands=False),
        _step("tape", _minutes(rng, 5), None),
    ]


def _minutes(rng, middle):
    """Log-normal times: some take three times as long."""
    return max(1, round(middle * rng.lognormvariate(0, 0.4)))


def _step(kind, minutes, station, hands=True, within=None, batch=None):
    return {
        "kind": kind,
        "minutes": minutes,
        "station": station,
        "hands": hands,
        "batch": batch,
        "start_within": within,
    }
