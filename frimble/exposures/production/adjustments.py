"""What has changed between a calibration and the screen about to be exposed, as factors on its time."""

from dataclasses import dataclass

from django.utils import timezone

from frimble.core.exposure.chart import learning as exposure_learning
from frimble.core.exposure.chart.production import Factor, sun_factor
from frimble.core.exposure.light.sun import SKIES, SunAt, unmetered_factor
from frimble.exposures.chart import prediction
from frimble.exposures.room import LightRoom

# What control strips measure needs no estimate.
_MEASURED_BY_STRIPS = ("hours of the lamp", "age of the emulsion")
_DISTANCE, _THICKNESS = "distance of the lamp", "thickness of mesh and coat"
# Below this a factor is noise.
_LEAST = 0.015
_WHY = {
    _THICKNESS: "the coat is expected {sign} than when it was tested",
    "clear film": "the film's clear areas let {sign2} light through than then",
    _DISTANCE: "the lamp stands {sign3} than then",
    "hours of the lamp": "the lamp has burned longer since",
    "age of the emulsion": "this batch's age is another than the tested one's",
}


@dataclass(frozen=True)
class SunNow:
    """The sun as it is now: what a meter shows of it, or None, and the sky, empty while nobody said."""

    meter: float | None = None
    sky: str = ""


def factors_for(entry, batch, sun: SunNow, room: LightRoom) -> tuple[Factor, ...]:
    """Factors on an entry's time for a coat of this batch now; none where nothing moved or nothing is known.

    Raises:
        RuleViolation: the sun stands too low to be told without a meter.
    """
    factors = []
    strips = room.drift(entry.lamp_id, entry.emulsion_id, entry.accepted_at)
    if strips and strips.signal:
        drifted = strips.factor
        factors.append(Factor(drifted.value, drifted.low, drifted.high, "control strips", drifted.reason))
    if entry.lamp.is_sun:
        factors += _of_the_sun(entry, sun, room)
    return (*factors, *_predicted(entry, batch, room, bool(strips and strips.signal)))


def _of_the_sun(entry, sun: SunNow, room) -> list[Factor]:
    """By the meter where it was read both times, else by hour and sky."""
    if sun.meter and entry.meter:
        return [sun_factor(entry.meter, sun.meter)]
    run = getattr(entry.reading.step_test, "run", None)
    if not (sun.sky in SKIES and run and run.sky in SKIES):
        return []
    latitude = room.settings["lamp.sun_latitude"]
    then = SunAt(timezone.localtime(run.made_at), run.sky, latitude)
    return [unmetered_factor(then, SunAt(timezone.localtime(), sun.sky, latitude))]


def _predicted(entry, batch, room, measured: bool):
    then = entry.cell_facts
    if then is None:
        return
    age = batch.age(timezone.now(), room.settings).value
    now = prediction.facts_of(entry.mesh, entry.formula, entry.emulsion, entry.lamp, entry.film_process, room, age=age)
    for name, by in exposure_learning.parts(now, then, prediction.learned(room.settings)):
        if name == _DISTANCE and entry.lamp.geometry != "point":
            continue  # No rule of distance holds close to tubes or a panel: the time's reason says to test.
        if abs(by.value - 1) < _LEAST or (measured and name in _MEASURED_BY_STRIPS):
            continue
        longer = by.value > 1
        why = _WHY.get(name, "it differs").format(
            sign="thicker" if longer else "thinner",
            sign2="less" if longer else "more",
            sign3="farther off" if longer else "nearer",
        )
        yield Factor(*by, name, f"{why}; an estimate", of_light=name != _THICKNESS)
