"""Two years of what the register's shop and the made-up one hold too little of, or nothing: no table stays empty."""

from collections.abc import Iterator
from datetime import datetime, timedelta
from itertools import pairwise
from uuid import uuid4

# Of two years: jobs beside the made-up shop's, films among them, and what the room writes down by the day; coming jobs.
JOBS, FILMS, DAYS, COMING = 1700, 500, 600, 30
# Stencils looked at by photo, screens sent to press of which something is said, uses of the timer, and trials.
STENCILS, PRINTS, TIMED, TRIALS = 200, 400, 400, 60
DRILLS_EACH, PLANS = 30, 120


def grow(person, now: datetime) -> None:
    """Written straight into the tables of a shop that holds the made-up one and the register's.

    Args:
        person: whose records they are.
        now: nothing is younger.
    """
    films = _films(person, now)
    _jobs(person, now, films)
    _stencils(person, now)
    _prints(person, now)
    _timer(person, now)
    _step_tests(person, now)
    _coating(person, now)
    _upkeep(person, now)
    _supplies(person, now)
    _plans(person, now)
    _trials(person, now)
    _people(person, now)
    _training(person, now)
    _screens(person, now)


def _back(now: datetime, number: int) -> Iterator[datetime]:
    """So many moments over two years, the newest a day ago."""
    return (now - timedelta(days=1 + 700 * k / number) for k in range(number))


def _films(person, now) -> list:
    """Films of past jobs, each checked like the made-up shop's that has faults, and some of them touched up."""
    from frimble.films.models import Film, FilmProcess, Judgement, ScanCheck, TouchUp

    process, pattern = FilmProcess.objects.first(), ScanCheck.objects.filter(state="done").earliest("pk")
    films = Film.objects.bulk_create(
        Film(name=f"Separation {k}", job_number=f"B-{k // 3:04d}", separation=f"colour {k % 3 + 1}", process=process,
             kept_at=f"Drawer {k % 40}", made_at=at, made_by=person)
        for k, at in enumerate(_back(now, FILMS))
    )  # fmt: skip
    checks = ScanCheck.objects.bulk_create(
        ScanCheck(film=film, scan=pattern.scan, picture=pattern.picture, densities=pattern.densities, dpi=pattern.dpi,
                  state="done", result=pattern.result, at=film.made_at, by=person)
        for film in films
    )  # fmt: skip
    Judgement.objects.bulk_create(
        Judgement(check_of=check, finding=k, accepted=k > 0, reason="" if k else "dust on the glass", at=now, by=person)
        for check in [pattern, *checks[::4]]
        for k in range(2)
    )
    TouchUp.objects.bulk_create(
        TouchUp(film=film, words="Two pinholes opaqued", kind="pen", at=film.made_at, by=person) for film in films[::5]
    )
    return films


def _jobs(person, now, films) -> None:
    """Jobs of three colours, printed and coming; pictures of some; and work that was not taken."""
    from frimble.jobs.models import Job, Photo, RefusedWork, ScreenNeed
    from frimble.press.models import PressVisit
    from frimble.screens.models import MeshType, ScreenEvent

    # Those of the register's screens.
    meshes = list(MeshType.objects.filter(pk__in=[s.installation.mesh_id for s in _ours(3)]))
    jobs = Job.objects.bulk_create(
        Job(number=f"B-{k:04d}", name=f"Pennants {k}", press_on=at.date()) for k, at in enumerate(_back(now, JOBS))
    )
    coming = Job.objects.bulk_create(
        Job(number=f"C-{k:04d}", name=f"Flags {k}", press_on=(now + timedelta(days=1 + k // 3)).date())
        for k in range(COMING)
    )
    of_job = {(film.job_number, int(film.separation[-1]) - 1): film for film in films}
    ScreenNeed.objects.bulk_create(
        ScreenNeed(job=job, mesh=meshes[k], formula="P1 S1", position=k, colour=f"colour {k + 1}",
                   film=of_job.get((job.number, k)))
        for job in [*jobs, *coming]
        for k in range(3)
    )  # fmt: skip
    sent = ScreenEvent.objects.filter(kind="to_press", press_visit__isnull=True).order_by("-pk")[: 3 * JOBS]
    PressVisit.objects.bulk_create(PressVisit(event=event, job=jobs[k // 3]) for k, event in enumerate(sent))
    Photo.objects.bulk_create(
        Photo(job=job, shows=shows, picture="photos/none", at=now - timedelta(days=9), by=person)
        for job in [Job.objects.get(number="J-301"), *jobs[:100]]
        for shows in Photo.Shows.values
    )
    RefusedWork.objects.bulk_create(
        RefusedWork(words=f"Banner {k}", reason="oversize", width_mm=2000, height_mm=900, money=80, at=at, by=person)
        for k, at in enumerate(_back(now, 100))
    )


def _stencils(person, now) -> None:
    """Photos of stencils like the made-up shop's, what people did about what was found, and where it printed."""
    from frimble.press.models import PrintDefect
    from frimble.stencils.models import FindingDecision, StencilPhoto, TappedFault

    pattern = StencilPhoto.objects.latest("pk")
    cycles = _cycles(STENCILS)
    made = StencilPhoto.objects.bulk_create(
        StencilPhoto(installation=cycle.installation, cycle=cycle, scan=pattern.scan, photo=pattern.photo,
                     straight=pattern.straight, want_mm=0.3, pinhole_mm=0.3, state="done", result=pattern.result,
                     at=at, by=person)
        for cycle, at in zip(cycles, _back(now, STENCILS), strict=True)
    )  # fmt: skip
    photos = [pattern, *made]
    TappedFault.objects.bulk_create(
        TappedFault(photo=photo, kind="pinhole", x_mm=30, y_mm=40, size_mm=0.5, at=photo.at, by=person)
        for photo in photos
    )
    FindingDecision.objects.bulk_create(
        FindingDecision(photo=photo, finding=k, what="filler", at=photo.at, by=person)
        for photo in photos
        for k in range(2)
    )
    PrintDefect.objects.bulk_create(
        PrintDefect(photo=photo, kind=kind, x_mm=x, y_mm=x, fault=fault, shows=shows, at=photo.at, by=person)
        for photo in photos
        for kind, x, fault, shows in (("speck", 34, None, None), ("", None, 1, True), ("", None, 2, False))
    )


def _cycles(number: int) -> list:
    """The youngest closed cycles of the register's screens, one a screen."""
    from frimble.screens.models import Cycle

    ours = Cycle.objects.filter(installation__frame__code__regex=r"^Q-\d{4}$", number=12, closed_at__isnull=False)
    return list(ours.select_related("installation").order_by("-pk")[:number])


def _prints(person, now) -> None:
    """What the press said, and the causes that were found."""
    from frimble.press.models import PressFeedback
    from frimble.stencils.models import ConfirmedCause

    cycles, known = _cycles(PRINTS), ConfirmedCause.objects.latest("pk")
    PressFeedback.objects.bulk_create(
        PressFeedback(installation=cycle.installation, cycle=cycle, opacity="opaque", sharpness="sharp", fit="fits",
                      hold="held", impressions=200, at=at, by=person)
        for cycle, at in zip(cycles, _back(now, PRINTS), strict=True)
    )  # fmt: skip
    ConfirmedCause.objects.bulk_create(
        ConfirmedCause(installation=cycle.installation, cycle=cycle, cause=known.cause, symptoms=known.symptoms,
                       facts=known.facts, probability=known.probability, at=at, by=person)
        for cycle, at in zip(cycles, _back(now, PRINTS), strict=True)
    )  # fmt: skip


def _timer(person, now) -> None:
    """An open run of the made-up shop, and closed ones with their taps."""
    from frimble.exposures.models import Exposure, Run, Tap
    from frimble.testing.records import open_run

    open_run("Q-006")
    given = Exposure.objects.select_related("lamp", "event__installation__screen").order_by("-pk")[:TIMED]
    runs = Run.objects.bulk_create(
        Run(screen=exposure.event.installation.screen, lamp=exposure.lamp, film_process_id=exposure.film_process_id,
            time_s=20, total_s=20, why="by the chart", made_by=person, made_at=at, status="done")
        for exposure, at in zip(given, _back(now, TIMED), strict=True)
    )  # fmt: skip
    Tap.objects.bulk_create(
        Tap(run=run, uid=uuid4(), kind=kind, at=run.made_at + after, received_at=run.made_at + after)
        for run in runs
        for kind, after in (("start", timedelta()), ("stop", timedelta(seconds=20)))
    )


def _step_tests(person, now) -> None:
    """Some with a screen for each time, some set against each other, times withdrawn, and a factor film."""
    from frimble.exposures.models import ChartEntry, ChartWithdrawal, StepTest, TestComparison, TestScreen
    from frimble.exposures.steptests.factorfilms import services as factor_films

    factor_films.keep(None, name="Ten columns", factors="1 0.7 0.5 0.35 0.25", areas="")
    tests = list(StepTest.objects.order_by("pk")[:80])
    screens = _ours(6)
    several = StepTest.objects.filter(pk__in=[test.pk for test in tests[40:50]])
    several.update(kind="screens")
    TestScreen.objects.bulk_create(
        TestScreen(step_test=test, screen=screen, strip=k)
        for test in several
        for k, screen in enumerate(screens, start=1)
    )
    TestComparison.objects.bulk_create(
        TestComparison(
            question="New film or old?", one=one, other=other, verdict="not told", reason="-", at=at, by=person
        )
        for (one, other), at in zip(pairwise(tests[:41]), _back(now, 40), strict=True)
    )
    ChartWithdrawal.objects.bulk_create(
        ChartWithdrawal(entry=entry, reason="film changed", at=now, by=person)
        for entry in ChartEntry.objects.order_by("accepted_at")[:20]
    )


def _ours(number: int) -> list:
    from bench import light_room

    return list(light_room.ours().select_related("installation").order_by("-pk")[:number])


def _coating(person, now) -> None:
    """Runs, one of them open; the coaters looked at; the cabinet's air."""
    from frimble.coatings.models import AirReading, Batch, BatchRecord, Coater, CoaterCheck, CoatingRun, RunScreen
    from frimble.screens.models import Rack

    coater, batch = Coater.objects.all()[0], Batch.objects.all()[0]
    screens = _ours(8)
    runs = CoatingRun.objects.bulk_create(
        CoatingRun(batch=batch, coater=coater, fill="half", by=person, started_at=at, ended_at=at if k else None)
        for k, at in enumerate(_back(now, 200))
    )
    RunScreen.objects.bulk_create(
        RunScreen(run=run, screen=screen, number=number, formula="P1 S1")
        for run in runs
        for number, screen in enumerate(screens, start=1)
    )
    CoaterCheck.objects.bulk_create(
        CoaterCheck(coater=coater, finding="good", at=at, by=person) for at in _back(now, 100)
    )
    BatchRecord.objects.bulk_create(
        BatchRecord(batch=batch, kind="poured", litres=0.1, at=at, by=person) for at in _back(now, 100)
    )
    cabinet = Rack.objects.get(cabinet=True)
    AirReading.objects.bulk_create(
        AirReading(cabinet=cabinet, air_c=34, humidity=0.4, fan="high", at=at, by=person) for at in _back(now, DAYS)
    )


def _upkeep(person, now) -> None:
    """A hand-over a day, signed; what came due; what was lent, and came back."""
    from frimble.jobs.models import Equipment, Handover, HandoverSignature, Loan, LoanReturn, UpkeepItem, UpkeepRecord

    handovers = Handover.objects.bulk_create(
        Handover(words="Two screens hang wet.", at=at, by=person) for at in _back(now, DAYS)
    )
    HandoverSignature.objects.bulk_create(HandoverSignature(handover=h, at=h.at, by=person) for h in handovers)
    items = UpkeepItem.objects.bulk_create(UpkeepItem(name=f"Filter {k}", every_days=30) for k in range(20))
    UpkeepRecord.objects.bulk_create(
        UpkeepRecord(item=item, at=at, by=person) for item in items for at in _back(now, 24)
    )
    Equipment.objects.bulk_create(Equipment(name=f"Machine {k}", circuit=f"C{k // 3}") for k in range(12))
    loans = Loan.objects.bulk_create(
        Loan(what=f"Gauge {k}", to="the press", at=at, by=person) for k, at in enumerate(_back(now, 100))
    )
    LoanReturn.objects.bulk_create(LoanReturn(loan=loan, at=loan.at, by=person) for loan in loans[5:])


def _supplies(person, now) -> None:
    from frimble.jobs.models import Supply, SupplyRecord

    supplies = Supply.objects.bulk_create(Supply(name=f"Remover {k}", unit="l") for k in range(20))
    SupplyRecord.objects.bulk_create(
        # The oldest, which are the last, say what came in.
        SupplyRecord(
            supply=supply, kind="in" if k % 10 == 9 else "out", amount=5 if k % 10 == 9 else 0.4, at=at, by=person
        )
        for supply in supplies
        for k, at in enumerate(_back(now, 100))
    )


def _plans(person, now) -> None:
    """Today planned; earlier plans; everybody's hours."""
    from frimble.demo.day import begin_day
    from frimble.jobs.models import DayHours, PlannedDay, UsualHours

    begin_day()
    today = PlannedDay.objects.latest("pk")
    # The newest by number stands.
    PlannedDay.objects.bulk_create(
        PlannedDay(plan=today.plan, at=at, by=person) for at in [*_back(now, PLANS), today.at]
    )
    for somebody in _everybody():
        UsualHours.objects.create(person=somebody, week="mon-fri 8-17")
        DayHours.objects.bulk_create(DayHours(person=somebody, on=at.date(), hours="8-12") for at in _back(now, 60))


def _everybody() -> list:
    from frimble.people.models import Person

    return list(Person.objects.exclude(role="station").order_by("pk"))


def _trials(person, now) -> None:
    from frimble.jobs.models import TrialConclusion, TrialNote

    trials = TrialNote.objects.bulk_create(
        TrialNote(changed=f"Fan at step {k}", expected="dries faster", at=at, by=person)
        for k, at in enumerate(_back(now, TRIALS))
    )
    TrialConclusion.objects.bulk_create(
        TrialConclusion(trial=trial, result="10 min less", conclusion="keep it", at=trial.at, by=person)
        for trial in trials[3:]
    )


def _people(person, now) -> None:
    """A code to come in by, searches that somebody keeps, and records that devices sent later."""
    from frimble.people.accounts import services as accounts
    from frimble.people.models import FailedTry
    from frimble.screens.models import LateRecord, SavedSearch

    accounts.make_code(_everybody()[-1], person)
    FailedTry.objects.bulk_create(FailedTry(key=f"{k:064x}", last_at=now) for k in range(20))
    SavedSearch.objects.bulk_create(SavedSearch(name=f"Slack {k}", query="due=slack", by=person) for k in range(8))
    LateRecord.objects.bulk_create(
        LateRecord(id=uuid4(), happened_at=at, taken_at=at, by=person, path="/screens/Q-0000/tension/")
        for at in _back(now, 300)
    )


def _training(person, now) -> None:
    """Drills of everybody in every skill, each remembered, and what the lead signed."""
    from frimble.core.training.schedule import drilled
    from frimble.core.training.skills import SKILLS
    from frimble.training.models import DrillRun, SkillMemory, SkillSignature

    after = drilled(None, 0.8, now)
    for somebody in _everybody():
        DrillRun.objects.bulk_create(
            DrillRun(person=somebody, skill=skill, level=1 + k % 3, seed=k, begun_at=at, answer={}, score=0.8,
                     answered_at=at)
            for skill in SKILLS
            for k, at in enumerate(_back(now, DRILLS_EACH))
        )  # fmt: skip
        SkillMemory.objects.bulk_create(
            SkillMemory(person=somebody, skill=skill, due_at=after.due, card=after.card) for skill in SKILLS
        )
        SkillSignature.objects.bulk_create(
            SkillSignature(person=somebody, skill=skill, signed=True, at=now, by=person) for skill in SKILLS
        )


def _screens(person, now) -> None:
    """Marks on meshes, and what stands at the reclaim booth."""
    from frimble.core.settings import HouseSettings
    from frimble.core.stencil.reclaim import steps
    from frimble.screens.models import Blemish, ReclaimProduct

    Blemish.objects.bulk_create(
        Blemish(installation=screen.installation, kind="ghost", x_mm=200, y_mm=200, width_mm=80, height_mm=60,
                at=at, by=person)
        for screen, at in zip(_ours(300), _back(now, 300), strict=True)
    )  # fmt: skip
    for step in steps(HouseSettings(), old=True, haze=True):
        ReclaimProduct.objects.create(step=step.name, name=f"Ours for {step.name}", dwell_s=120)
