"""Days of made-up screen rooms, as the plan_day command takes them: small and large rooms, easy and hopeless days."""

import random
from datetime import datetime, timedelta

_START = datetime(2026, 5, 4, 7)
_SKILLS = ("degrease", "coat", "expose", "wash", "finish")


def day(seed: int, screens: int | None = None) -> dict:
    """A day to plan.

    Args:
        seed: the same seed, the same day. screens: how many, 10 to 60 by chance where None.
    """
    rng = random.Random(seed)
    number = screens or rng.randint(10, 60)
    length = rng.choice([480, 540, 600])
    stations = _stations(rng, number)
    return {
        "start": _at(0),
        "end": _at(length),
        "overtime": rng.random() < 0.4,
        "people": _people(rng, number, length),
        "stations": [{"name": name, "capacity": capacity} for name, capacity in stations.items()],
        "screens": _screens(rng, number, length, stations),
    }


def _at(minutes):
    return (_START + timedelta(minutes=minutes)).isoformat(timespec="minutes")


def _stations(rng, number):
    return {
        "sink": rng.choice([1, 1, 2]),
        "bench": rng.choice([1, 2]),
        "cabinet": max(4, round(number * rng.uniform(0.2, 0.6))),
        "lamp": rng.choice([1, 1, 1, 2]),
        "booth": rng.choice([1, 1, 2]),
    }


def _people(rng, number, length):
    people = []
    for k in range(max(1, round(number / rng.uniform(14, 30)))):
        name = "ABCDEFGH"[k]
        skills = list(_SKILLS)
        if k and rng.random() < 0.4:
            skills = sorted(rng.sample(skills, rng.randint(2, 4)))
        begin = rng.choice([0, 0, 0, 30, 60])
        lunch = rng.choice([240, 270, 300])
        for start, end in ((begin, lunch), (lunch + 30, length + rng.choice([0, 0, 60, 120]))):
            people.append({"name": name, "from": _at(start), "to": _at(end), "skills": skills})
    return people


def _screens(rng, number, length, stations):
    tightness = rng.uniform(0.5, 1.3)
    jobs = [sorted(rng.uniform(0.3, 1.2) for _ in range(1))[0] * length * tightness for _ in range(max(3, number // 4))]
    loads = {}
    screens = []
    for k in range(number):
        steps = _steps(rng, loads)
        cut = rng.choice([0] * 6 + [2, 4, 5]) if len(steps) > 6 else 0
        steps = steps[cut:]
        steps[0]["start_within"] = None
        if steps[0]["kind"] == "dry" and rng.random() < 0.5 and _running(screens) < stations["cabinet"]:
            steps[0] |= {"start_within": 0, "minutes": rng.randint(5, steps[0]["minutes"])}
        late_start = rng.random() < 0.15 and steps[0]["start_within"] is None
        screens.append(
            {
                "code": f"S-{k:03d}",
                "due": None if rng.random() < 0.1 else _at(round(rng.choice(jobs))),
                "ready": _at(rng.randint(10, 200)) if late_start else None,
                "weight": rng.choice([1, 1, 1, 2, 3, 5]),
                "steps": steps,
            }
        )
    return screens


def _running(screens):
    return sum(s["steps"][0]["start_within"] == 0 for s in screens)


def _steps(rng, loads):
    steps = [
        _step("degrease", rng.randint(4, 8), "sink"),
        _step("dry", rng.randint(10, 20), "cabinet", hands=False),
        _step("coat", rng.randint(2, 5), "bench", within=rng.choice([None, 240])),
        _step("dry", rng.randint(50, 90), "cabinet", hands=False, within=5),
    ]
    if rng.random() < 0.2:
        steps += [
            _step("coat", rng.randint(2, 4), "bench"),
            _step("dry", rng.randint(40, 60), "cabinet", False, within=5),
        ]
    expose = _step("expose", rng.randint(3, 7), "lamp")
    if rng.random() < 0.3:
        load = rng.randrange(4)
        expose |= {"batch": f"L{load}", "minutes": loads.setdefault(load, expose["minutes"])}
    return [
        *steps,
        expose,
        _step("wash", rng.randint(5, 9), "booth", within=rng.choice([None, 10, 30, 60])),
        _step("dry", rng.randint(20, 35), "cabinet", hands=False),
        _step("finish", rng.randint(2, 5), None),
    ]


def _step(kind, minutes, station, hands=True, within=None):
    return {"kind": kind, "minutes": minutes, "station": station, "hands": hands, "batch": None, "start_within": within}
