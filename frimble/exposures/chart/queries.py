"""The exposure chart as records: which time holds for a screen, and accepting a new one."""

import math
from dataclasses import dataclass
from datetime import timedelta

from django.utils import timezone

from frimble.coatings.coats.queries import current_coat
from frimble.coatings.drying import queries as drying_queries
from frimble.coatings.models import Batch
from frimble.core.exposure.chart import times as chart_times
from frimble.core.exposure.steptest import greyscale as grey_scale
from frimble.core.exposure.steptest import window as window_fit
from frimble.core.exposure.steptest.reading import StepGrade, StepTestResult, read_grades
from frimble.core.film import densities
from frimble.core.statistics.normal import Z_90
from frimble.core.units import show_seconds
from frimble.core.verdicts import BatchAge, TestOutcome
from frimble.exposures.chart import staleness
from frimble.exposures.models import ChartEntry, TestReading
from frimble.exposures.room import LightRoom
from frimble.exposures.steptests.photo import queries as photo_queries
from frimble.films.processes.uses import longest_over_cure
from frimble.people import settings as house_settings
from frimble.people.cached import CachedValue
from frimble.people.room_time import day_words
from frimble.screens.models import Screen

# A time is shorter than another below this share of it.
_SHORTER = 0.9


IN_FORCE = CachedValue("chart-in-force", 600)


def entries_in_force(**which) -> list[ChartEntry]:
    """The newest entry for each set of conditions, of all or of those with `which` mesh, lamp and so on.

    They are shared between pages: nobody may change one.
    """
    entries = IN_FORCE.get(lambda: list(ChartEntry.objects.read().in_force().order_by("accepted_at")))
    wanted = [(f"{condition}_id", row.pk) for condition, row in which.items()]
    return [e for e in entries if all(getattr(e, name) == pk for name, pk in wanted)]


def emulsion_moved(entries, now, room: LightRoom) -> dict[int, tuple[str, str]]:
    """By entry, (what to do, why) where its emulsion is no longer what the time was found with: aged, or another batch.

    Another batch whose control strips are steady is as good as the tested one.
    """
    batches: dict[int, Batch] = {}
    for batch in Batch.objects.in_use().order_by("mixed_at"):
        batches[batch.emulsion_id] = batch
    ages = {emulsion: batch.age(now, room.settings) for emulsion, batch in batches.items()}
    reasons = {}
    for entry in entries:
        batch, code = batches.get(entry.emulsion_id), entry.batch_code
        if batch is None:
            continue
        age = ages[entry.emulsion_id]
        if age.verdict != BatchAge.FRESH:
            reasons[entry.pk] = "recalibrate", f"{batch.code} is {age.verdict}. {age.reason}"
        elif code != batch.code and not room.steady_since(entry, batch.mixed_at):
            reasons[entry.pk] = (
                "check again",
                f"Found with {code}; {batch.code} is in use now, and too few control strips say that it is alike.",
            )
    return reasons


def time_for(screen: Screen, lamp, film_process, room: LightRoom | None = None, coat=None, entries=None):
    """(conclusion, chart entry or None) for exposing this screen under this lamp through this film.

    Args:
        room, coat, entries: of this page, on this screen and in force, where they were read already.
    """
    room, coat = room or LightRoom(house_settings.current()), coat or current_coat(screen)
    now, settings = timezone.now(), room.settings
    wanted = chart_times.Conditions(
        str(screen.mesh), coat.formula, coat.batch.emulsion.name, lamp.name, film_process.name
    )
    entries = entries_in_force() if entries is None else entries
    entry = next((e for e in entries if e.conditions == wanted), None)
    time = chart_times.time_for(
        wanted,
        [e.as_core() for e in entries],
        now,
        settings,
        coat.batch.age(now, settings).verdict,
        staleness.moved(entry, coat.batch, room) if entry else (),
    )
    return time, entry


def usual_light(screen: Screen, entries, coat):
    """(lamp, film) of the newest of these calibrated times for this screen's mesh and its coat, or None."""
    if coat is None:
        return None
    wanted = screen.mesh.pk, coat.formula, coat.batch.emulsion_id
    alike = [e for e in entries if (e.mesh_id, e.formula, e.emulsion_id) == wanted]
    newest = max(alike, key=lambda e: e.accepted_at, default=None)
    return (newest.lamp, newest.film_process) if newest else None


def uncalibrated(screens, times) -> list[str]:
    """Codes of coated screens for which none of these times in force holds under any light."""
    known = {(t.mesh_id, t.formula, t.emulsion_id) for t in times}
    on = drying_queries.coats_on([s.installation_id for s in screens])
    coats = [(s, on.get(s.installation_id)) for s in screens]
    return [s.code for s, c in coats if not c or (s.installation.mesh_id, c.formula, c.emulsion_id) not in known]


def over_cure_of(film_process_id: int) -> float | None:
    """The longest calibrated time through a film process, of its full cure; None without any."""
    through = (e for e in entries_in_force() if e.film_process_id == film_process_id and e.cured_low_s is not None)
    return max((e.time_s / e.low_s for e in through), default=None)


def film_headroom(film_process, entry: ChartEntry, room: LightRoom):
    """How many working times the film holds before it leaks; None while its UV density is not measured as it is printed."""
    reading = room.density(film_process, "uv")
    changed = film_process.settings_changed_at
    if reading is None or (changed and reading.at < changed):
        return None
    return densities.headroom(
        entry.low_s, entry.time_s, reading.dmax, reading.dmin, "uv", room.settings, reading.at_least
    )


def film_before_shorter(film_process, found: StepTestResult, old_s: float | None) -> str:
    """What to know of the film before a shorter time is believed, in words; empty where nothing gets shorter.

    Args:
        old_s: the time in force for the same conditions, or None.
    """
    closed = found.outcome in (TestOutcome.ALL_OVER, TestOutcome.NO_GOOD_STEP)
    shorter = found.usable and old_s is not None and found.recommended.value < old_s * _SHORTER
    if not (closed or shorter):
        return ""
    reading = film_process.density("uv")
    least = densities.wanted_core(house_settings.current(), longest_over_cure(film_process.pk))
    if reading is None:
        return f"Before going shorter: {film_process}'s UV density was never measured, and a film that leaks looks the same."
    holds = reading.dmax - reading.dmin
    if holds < least:
        return f"{film_process} is {holds:.2f} above its clear areas, {least:.2f} is wanted: mend the film before the time."
    return f"{film_process} is {holds:.2f} above its clear areas: it is not the film that leaks."


def conclude(reading: TestReading) -> StepTestResult:
    """What a stored reading says, concluded anew by the core; a photo's own window while nobody corrected its grades."""
    if reading.solid_step is not None:
        test, settings = reading.step_test, house_settings.current()
        return grey_scale.as_reading(test.times_s[0], reading.solid_step, settings, aim_of(test, settings))
    if reading.photo_id and not reading.photo.refused and not photo_queries.corrected(reading):
        from frimble.core.exposure.photo.concluding import as_reading

        return as_reading(photo_queries.result_of(reading.photo), reading.school)
    return read_grades(_grades(reading), reading.school, reading.wanted_opening_um, house_settings.current())


def aim_of(test, settings, own_step: float | None = None) -> grey_scale.Aim:
    """The step to aim at under a test's lamp on its emulsion, from the scales exposed where a window gives the time.

    Args:
        own_step: what is just being read off the test itself.
    """
    read = TestReading.objects.filter(
        solid_step__isnull=False, step_test__emulsion=test.emulsion, step_test__lamp=test.lamp
    ).select_related("step_test")
    newest = {r.step_test_id: r for r in read.order_by("read_at", "pk")}.values()
    windows = {e.conditions: e for e in entries_in_force(emulsion=test.emulsion, lamp=test.lamp) if e.has_window}
    seen = [(r.step_test, r.solid_step) for r in newest] + ([(test, own_step)] if own_step else [])
    scales = [(t.times_s[0], step, windows[t.conditions].time_s) for t, step in seen if t.conditions in windows]
    return grey_scale.learn_aim(scales, settings)


def _grades(reading: TestReading) -> list[StepGrade]:
    return [s.as_core() for s in reading.steps.all()]


@dataclass(frozen=True)
class PooledReadings:
    """What all readings of one combination say together, who read, of how many tests, and what two more steps would add."""

    fit: window_fit.WindowFit
    readers: tuple[str, ...]
    tests: int
    cured_worth: window_fit.InformationGain | None
    closes_worth: window_fit.InformationGain | None


def together(test, reading: TestReading, settings) -> PooledReadings:
    """The window fitted from everybody's newest reading of this test and of earlier ones of the same combination."""
    since = test.planned_at - timedelta(days=settings["exposure.stale_days"])
    alike = (
        TestReading.objects.filter(
            step_test__mesh=test.mesh,
            step_test__formula=test.formula,
            step_test__emulsion=test.emulsion,
            step_test__lamp=test.lamp,
            step_test__film_process=test.film_process,
            step_test__planned_at__gte=since,
            step_test__lamp_distance_mm=test.lamp_distance_mm,
        )
        .select_related("read_by", "photo")
        .prefetch_related("steps")
        .order_by("read_at", "pk")
    )
    newest = list({(r.step_test_id, r.read_by_id, r.photo_id is None): r for r in alike}.values())
    ends, wanted = _ends(newest), reading.wanted_opening_um
    seen_cured, seen_closes = window_fit.seen_of(ends.grades, wanted)
    by_photo = {r.pk for r in ends.by_photo}
    readers = tuple(sorted({f"{r.read_by}{' by photo' if r.pk in by_photo else ''}" for r in newest}))
    return PooledReadings(
        window_fit.fit_window(ends.grades, wanted, ends.cured, ends.closes),
        readers,
        len({r.step_test_id for r in newest}),
        window_fit.two_more(seen_cured, ends.cured),
        window_fit.two_more(seen_closes, ends.closes),
    )


def fits_of(tests) -> list[window_fit.WindowFit | None]:
    """The window of each test alone, from everybody's newest reading of it; None where nobody has read it."""
    readings = (
        TestReading.objects.filter(step_test__in=tests)
        .select_related("photo", "step_test")
        .prefetch_related("steps")
        .order_by("read_at", "pk")
    )
    newest = {(r.step_test_id, r.read_by_id, r.photo_id is None): r for r in readings}
    return [_fit_of([r for (pk, *_), r in newest.items() if pk == test.pk]) for test in tests]


def _fit_of(readings) -> window_fit.WindowFit | None:
    if not readings:
        return None
    ends = _ends(readings)
    return window_fit.fit_window(ends.grades, readings[-1].wanted_opening_um, ends.cured, ends.closes)


@dataclass(frozen=True)
class _Ends:
    """What readings tell of a window's ends: grades by eye, and what photos measured."""

    by_photo: list[TestReading]
    grades: list[list[StepGrade]]
    cured: list[window_fit.WindowEndMeasurement]
    closes: list[window_fit.WindowEndMeasurement]


def _ends(readings) -> _Ends:
    by_photo = [r for r in readings if r.photo_id and not r.photo.refused and not photo_queries.corrected(r)]
    results = [photo_queries.result_of(r.photo) for r in by_photo]
    cured, closes = ([_measured(getattr(f, end)) for f in results if getattr(f, end)] for end in ("cured", "closes"))
    grades = [_grades(r) for r in readings if r not in by_photo and r.solid_step is None]
    return _Ends(by_photo, grades, cured, closes)


def _measured(edge) -> window_fit.WindowEndMeasurement:
    """An end that a photo gave with its 90 % interval."""
    value, low, high = edge
    return window_fit.WindowEndMeasurement(value, math.log(high / low) / 2 / Z_90)


def held_before(entry: ChartEntry) -> ChartEntry | None:
    """The time that would hold again if this one were withdrawn."""
    older = ChartEntry.objects.read().same_conditions(entry).filter(withdrawal__isnull=True).exclude(pk=entry.pk)
    return older.filter(accepted_at__lte=entry.accepted_at).first()


def previous_entry(test, accepted: ChartEntry | None) -> ChartEntry | None:
    """The time that held for a test's conditions before its own was accepted; `accepted` is its own, if it was."""
    others = (
        ChartEntry.objects.read().same_conditions(test).exclude(reading__step_test=test).filter(withdrawal__isnull=True)
    )
    if accepted:
        others = others.filter(accepted_at__lt=accepted.accepted_at)
    return others.first()


def against_chart(old: ChartEntry | None, value_s: float | None) -> str:
    """How a new time stands to the one in force for the same conditions, in words."""
    if value_s is None:
        return ""
    if old is None:
        return "The first calibrated time for these conditions."
    change = (value_s / old.time_s - 1) * 100
    direction = "longer" if change >= 0 else "shorter"
    when = day_words(old.accepted_at)
    return f"Last accepted {show_seconds(old.time_s)} on {when}. {abs(change):.0f} % {direction} now."
