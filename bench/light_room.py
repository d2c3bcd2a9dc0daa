"""The light room of a large works for `register.py`: lamps, films, batches, coats, step tests with readings, the chart,
exposures and control strips."""

import itertools
from datetime import timedelta

# So many screens carry a coat; of exposures and strips as many as two years give.
COATED, EXPOSURES, STRIPS = 60, 5000, 600
PAGES = {
    "expose": "/expose/Q-0000/",
    "plan a test": "/expose/Q-0000/test/?guess_s=22&steps=9&series=cbrt2&card=cover&length_mm=240",
    "read a test": "/expose/tests/1/", "two tests": "/expose/tests/compare/?one=1&other=2", "step tests": "/expose/tests/",
    "a lamp": "/expose/lamps/1/", "a photo": "/expose/photos/1/", "two steps": "/expose/photos/1/beside/",
    "send a photo": "/expose/tests/2/photo/", "read by photo": "/expose/tests/2/", "chart to print": "/expose/chart/print/",
    "change a lamp": "/expose/lamps/1/change/", "the film": "/expose/film/", "mesh card": "/screens/mesh/1/",
}  # fmt: skip


def build(person, now) -> None:
    """Written straight into the tables of a shop whose screens, cycles and events stand already."""
    from frimble.coatings.models import Batch, Emulsion
    from frimble.exposures.models import Lamp, LampRecord
    from frimble.films.models import DensityReading, FilmProcess

    emulsions = [Emulsion.objects.create(name=f"Emulsion {k}", kind="dual", solids=0.4) for k in range(2)]
    batches = [
        Batch.objects.create(code=f"P-{k}", emulsion=e, mixed_at=now - timedelta(days=9), mixed_by=person)
        for k, e in enumerate(emulsions)
    ]
    lamps = [Lamp.objects.create(name=f"Lamp {k}", kind="led", distance_mm=400 + 300 * k) for k in range(3)]
    films = [FilmProcess.objects.create(name=f"Film {k}") for k in range(4)]
    DensityReading.objects.bulk_create(
        DensityReading(process=f, band="uv", dmax=3.2, dmin=0.06, route="densitometer", at=now, by=person)
        for f in films
    )
    LampRecord.objects.bulk_create(
        LampRecord(
            lamp=lamp,
            kind=kind,
            hours=20 * n,
            light_mw_cm2=8 - 0.02 * n,
            at=now - timedelta(days=700 - 7 * n),
            by=person,
        )
        for lamp in lamps
        for n in range(100)
        for kind in ("hours", "meter")
    )
    coats = _coats(batches, now, person)
    given = _exposures(lamps, films, person)
    _strips(given, emulsions, person)
    _tests(coats, batches, lamps, films, person, now)
    _photo(person)


def ours():
    """The screens of the bench; the made-up shop's, which may stand beside them, have shorter codes."""
    from frimble.screens.models import Screen

    return Screen.objects.filter(frame__code__regex=r"^Q-\d{4}$")


def _coats(batches, now, person):
    """Coated screens, the first of them Q-0000, each in a cycle that is open."""
    from frimble.coatings.models import Coat
    from frimble.core import lifecycle
    from frimble.screens.models import Cycle, Screen, ScreenEvent

    screens = list(ours().select_related("installation").order_by("pk")[: COATED * 4 : 4])
    for screen in screens:
        cycle = Cycle.objects.create(installation=screen.installation, number=999, started_at=now - timedelta(days=1))
        event = ScreenEvent.objects.create(
            installation=screen.installation,
            cycle=cycle,
            kind="coat",
            at=now - timedelta(hours=9),
            by=person,
            summary="coated",
        )
        Coat.objects.create(
            event=event,
            batch=batches[screen.pk % 2],
            formula="P1 S1",
            layer=1,
            air_c=34,
            humidity=0.4,
            dry_min=60,
            dry_low_min=50,
            dry_high_min=75,
        )
    Screen.objects.filter(pk__in=[s.pk for s in screens]).update(state=lifecycle.State.COATED)
    return screens


def _exposures(lamps, films, person):
    from frimble.exposures.models import Exposure
    from frimble.screens.models import ScreenEvent

    events = ScreenEvent.objects.filter(kind="expose", exposure__isnull=True).order_by("-pk")[:EXPOSURES]
    return Exposure.objects.bulk_create(
        Exposure(event=e, lamp=lamps[k % 3], film_process=films[k % 4], planned_s=20, given_s=20)
        for k, e in enumerate(events)
    )


def _strips(given, emulsions, person) -> None:
    from frimble.exposures.models import ControlStrip

    ControlStrip.objects.bulk_create(
        ControlStrip(
            exposure=e, lamp=e.lamp, emulsion=emulsions[k % 2], step=7 + (k % 3 - 1) / 2, by=person, at=e.event.at
        )
        for k, e in enumerate(given[:STRIPS])
    )


def _tests(coats, batches, lamps, films, person, now) -> None:
    """A read and accepted test of every mesh, emulsion, lamp and film."""
    from frimble.core.exposure.steptest.plan import plan_moving_card
    from frimble.core.exposure.steptest.reading import StepGrade
    from frimble.core.settings import HouseSettings
    from frimble.exposures.models import ChartEntry, ReadStep, StepTest, TestReading
    from frimble.screens.models import MeshType

    plan = plan_moving_card(30, 9, "cbrt2", HouseSettings())
    grades = ["over", "over", "closing", "closing", "good", "good", "short", "short", "under"]
    for mesh, batch, lamp, film in itertools.product(MeshType.objects.all(), batches, lamps, films):
        setup = {"mesh": mesh, "formula": "P1 S1", "emulsion": batch.emulsion, "lamp": lamp, "film_process": film}
        test = StepTest.objects.create(
            **setup,
            screen=coats[0],
            batch=batch,
            guess_s=30,
            series="cbrt2",
            card="cover",
            lag_s=0,
            length_mm=240,
            planned_times_s=plan.times_s,
            real_times_s=plan.times_s,
            moves=[[m.at_s, m.strip] for m in plan.moves],
            total_s=plan.total_s,
            status="exposed",
            lamp_distance_mm=lamp.distance_mm,
            planned_by=person,
            planned_at=now,
        )
        reading = TestReading.objects.create(
            step_test=test,
            school="middle",
            wanted_opening_um=150,
            outcome="window",
            recommended_s=27,
            read_by=person,
            read_at=now,
        )
        steps = [StepGrade(n, t, g) for n, (t, g) in enumerate(zip(plan.times_s, grades, strict=True), start=1)]
        ReadStep.objects.bulk_create(
            ReadStep(reading=reading, strip=s.strip, time_s=s.time_s, grade=s.grade) for s in steps
        )
        facts = {
            "stencil_um": 147,
            "yellow": False,
            "dmin": 0.06,
            "emulsion": batch.emulsion.name,
            "lamp": lamp.name,
            "distance_mm": lamp.distance_mm,
            "hours": 1900.0,
            "age": 0.1,
        }
        ChartEntry.objects.create(
            **setup,
            time_s=27,
            low_s=21,
            high_s=34,
            school="middle",
            reason="for the bench",
            bracketed=True,
            cured_low_s=19,
            cured_high_s=24,
            closes_low_s=30,
            closes_high_s=38,
            facts=facts,
            lamp_distance_mm=lamp.distance_mm,
            reading=reading,
            accepted_by=person,
            accepted_at=now,
        )


def _photo(person) -> None:
    """A test by a simulated photo, read and taken over."""
    from frimble.exposures.models import StepTest
    from frimble.exposures.steptests.photo import services as photo_services

    test = StepTest.objects.filter(screen__in=ours()).order_by("pk")[1]
    kept = photo_services.read(
        test,
        person,
        photo=photo_services.simulated(test, 600),
        dpi=600,
        scale_bar_mm=200,
        wanted_um=150,
    )
    photo_services.take_over(kept, person, {}, "middle")
