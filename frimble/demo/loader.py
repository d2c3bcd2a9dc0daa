"""Writes the scenario into an empty shop: reference data, then a year of records, then the projection of each screen."""

from collections import defaultdict
from datetime import timedelta

from django.db import connection, transaction

from frimble.coatings.models import Batch, Coat, CoatDefect, CoatRecipe, CoatThickness, DryCheck, Emulsion
from frimble.core import lifecycle
from frimble.core.coating.drying import hold_minutes
from frimble.core.coating.formula import parse_formula
from frimble.core.conclusions import RuleViolation
from frimble.core.exposure.steptest.plan import plan_moving_card
from frimble.core.exposure.steptest.reading import read_grades
from frimble.core.instruments.tension_gauge import read_screen
from frimble.core.simulation.shop import earlier_lives, past
from frimble.core.simulation.stencil import read_test
from frimble.core.statistics.interval import Interval
from frimble.core.tension.measurement import summarise
from frimble.core.units import show_seconds
from frimble.core.verdicts import TestOutcome
from frimble.demo import orders, scenario
from frimble.demo.choosing import choose_screens
from frimble.demo.coating import CoatRoom, finished
from frimble.demo.films import lay_out_films
from frimble.demo.light import ends, lay_out_light, load_lamps
from frimble.demo.losses import lay_out_losses
from frimble.demo.room import lay_out_room
from frimble.demo.stencils import lay_out_stencils
from frimble.exposures.models import ChartEntry, Exposure, Lamp, ReadStep, StepTest, TestReading
from frimble.films.models import DensityReading, FilmProcess
from frimble.jobs.models import Job, ScreenNeed
from frimble.people import settings as house_settings
from frimble.people.models import HouseSetting, Person
from frimble.press.models import PressReport, PressVisit
from frimble.screens.ledger import projected, summarize_lives
from frimble.screens.models import (
    Blemish,
    Cycle,
    Frame,
    MeshInstallation,
    MeshType,
    Rack,
    Screen,
    ScreenEvent,
    Slot,
    TensionMeasurement,
    TensionValue,
)
from frimble.screens.reclaim.services import RECLAIM_OUTCOMES
from frimble.screens.register.services import ENDINGS
from frimble.stencils.models import Washout


def loaded() -> bool:
    return Frame.objects.filter(code="Q-001").exists()


def password_of(username: str) -> str:
    """Passwords of the made-up people; a real shop makes its own."""
    return f"{username}-pennant"


@transaction.atomic
def load(now) -> None:
    """Load everything, or nothing.

    Raises:
        RuleViolation: a shop of people of its own is there.
    """
    if Person.objects.exists():
        raise RuleViolation("This database is a shop's own: the made-up one is loaded into an empty one alone.")
    Loader(now).run()
    lead = Person.objects.get(username="odile")
    HouseSetting.objects.create(
        key=house_settings.MADE_UP, value="yes", reason="Loaded for the demo", changed_by=lead, changed_at=now
    )


_EMULSION = (
    "name", "kind", "solids", "colour", "exposed_colour", "ratio", "resists", "suits", "speed", "finest_um", "cost_l",
)  # fmt: skip


# Minutes that the made-up coats were expected to dry in.
_DRIES = Interval(75, 50, 112)


def _count_rows() -> None:
    """PostgreSQL counts rows when a transaction ends; asked within this long one it would take every table for empty."""
    if connection.vendor == "postgresql":
        with connection.cursor() as cursor:
            cursor.execute("ANALYZE")


class Loader:
    """Holds the looked-up reference rows while the past is written."""

    def __init__(self, now):
        self.now = now
        self.house_settings = house_settings.current()

    def run(self):
        self._people()
        self._reference()
        self.coat_room = CoatRoom(self.now, self.house_settings, self.people)
        self._frames()
        self._past()
        self._projections()
        self._mark_ghosts()
        self._rack_them()
        self.coat_room.lay_out(self.batches)
        _count_rows()
        lay_out_light(self.people["bertrand"], self.house_settings)
        lay_out_films(self.now, self.hands[0])
        lay_out_stencils(self.now, self.hands[0], self.people["ines"])
        lay_out_room(self.now, self.people["odile"], self.hands[0])
        choose_screens(self.hands[0], self.house_settings)
        lay_out_losses(self.hands, scenario.SEED)
        summarize_lives()

    def _people(self):
        for username, name, role in scenario.PEOPLE:
            Person.objects.create_user(username, password=password_of(username), first_name=name, role=role)
        self.people = {p.username: p for p in Person.objects.all()}
        self.hands = [self.people["tamsin"], self.people["bertrand"]]

    def _reference(self):
        self.meshes = [
            MeshType.objects.create(count_per_cm=n, thread_um=d, colour=c, thermal=t) for n, d, c, t in scenario.MESHES
        ]
        self.emulsions = {
            row[0]: Emulsion.objects.create(**dict(zip(_EMULSION, row, strict=True))) for row in scenario.EMULSIONS
        }
        self.batches = {}
        for code, emulsion, days, kept, litres, capacity_l in scenario.BATCHES:
            self.batches[code] = Batch.objects.create(
                code=code,
                emulsion=self.emulsions[emulsion],
                mixed_at=self.now - timedelta(days=days),
                mixed_by=self.people["odile"],
                kept_c=kept,
                ratio=self.emulsions[emulsion].ratio,
                litres=litres,
                capacity_l=capacity_l,
            )
        for name, formula, use, coarsest, finest in scenario.RECIPES:
            CoatRecipe.objects.create(
                name=name, formula=formula, use=use, coarsest_per_cm=coarsest, finest_per_cm=finest
            )
        self.film_processes = {row[0]: self._film_process(*row) for row in scenario.FILMS}
        self.lamps = {
            row[0]: Lamp.objects.create(
                name=row[0],
                kind=row[1],
                distance_mm=row[2],
                warm_up_s=row[3],
                start_lag_s=row[4],
                geometry=row[5],
                contact=row[6],
                units_a_second=row[7],
            )
            for row in scenario.LAMPS
        }
        load_lamps(self.lamps, self.people["bertrand"], self.now)
        for number, name, what, days in scenario.JOBS:
            Job.objects.create(number=number, name=name, what=what, press_on=(self.now + timedelta(days=days)).date())
        self.jobs = list(Job.objects.all())
        for position, (number, colour, mesh, formula, screens) in enumerate(scenario.NEEDS):
            job = next(j for j in self.jobs if j.number == number)
            wanted = {"mesh": self.meshes[mesh], "formula": formula, "number": screens}
            ScreenNeed.objects.create(job=job, colour=colour, position=position, **wanted)
        for prefix, name, dark, columns, rows, width, height in scenario.RACKS:
            rack = Rack.objects.create(
                code=prefix, name=name, dark=dark, level="level" in name, cabinet="cabinet" in name
            )
            places = [(c, r) for r in range(1, rows + 1) for c in range(1, columns + 1)]
            Slot.objects.bulk_create(
                Slot(rack=rack, code=f"{prefix}-{i:02d}", column=c, row=r, width_mm=width, height_mm=height)
                for i, (c, r) in enumerate(places, start=1)
            )

    def _film_process(self, name, how_made, widest, visual_max, visual_min, uv_max, uv_min, *costs) -> FilmProcess:
        process = FilmProcess.objects.create(
            name=name,
            how_made=how_made,
            widest_mm=widest,
            machine_price=costs[0],
            life_films=costs[1],
            ink_a_film=costs[2],
            sheet_a_film=costs[3],
            spoilage=costs[4],
        )
        for band, dmax, dmin in (("visual", visual_max, visual_min), ("uv", uv_max, uv_min)):
            DensityReading.objects.create(
                process=process,
                band=band,
                route="densitometer",
                dmax=dmax,
                dmin=dmin,
                simulated=True,
                by=self.hands[0],
                at=self.now - timedelta(days=40),
            )
        return process

    def _frames(self):
        self.screens, self.events = {s.past.code: s for s in scenario.screens()}, []
        self.installations = {}
        photo = [code for code, shop in self.screens.items() if shop.past.line == "photo"]
        earlier = earlier_lives(photo, scenario.SEED)
        for code, shop in self.screens.items():
            born = self.now - timedelta(days=shop.past.age_days)
            frame = Frame.objects.create(
                code=code,
                material=shop.material,
                outer_width_mm=shop.size_mm[0],
                outer_height_mm=shop.size_mm[1],
                registered_at=born,
                registered_by=self.people["odile"],
            )
            before = earlier.get(code)
            if before:
                self._earlier_mesh(frame, self.meshes[shop.mesh], born, *before)
            self.installations[code] = MeshInstallation.objects.create(
                frame=frame,
                number=2 if before else 1,
                mesh=self.meshes[shop.mesh],
                line=shop.past.line,
                mounted_at=born,
            )

    def _earlier_mesh(self, frame, mesh, until, cycles, ending):
        """The mesh a frame carried before, with nothing left of it but its cycles and its end."""
        began = until - timedelta(days=14 * cycles + 3)
        Frame.objects.filter(pk=frame.pk).update(registered_at=began)
        installation = MeshInstallation.objects.create(frame=frame, number=1, mesh=mesh, line="photo", mounted_at=began)
        Cycle.objects.bulk_create(
            Cycle(
                installation=installation,
                number=k + 1,
                started_at=began + timedelta(days=14 * k + 1),
                closed_at=began + timedelta(days=14 * k + 9),
            )
            for k in range(cycles)
        )
        self.events.append(
            ScreenEvent(
                installation=installation,
                kind="take_off",
                at=until - timedelta(hours=3),
                by=self.hands[0],
                facts={"ending": ending},
                summary=f"Mesh taken off: {ENDINGS[ending]}",
            )
        )

    def _past(self):
        self.cycles, self.past_batches = {}, {}
        self.details = defaultdict(list)
        records = past([s.past for s in self.screens.values()], self.now, scenario.SEED)
        self._make_cycles(records)
        self._make_orders(records)
        for number, record in enumerate(records):
            getattr(self, f"_{record.kind}")(record, self.hands[number % 2])
        ScreenEvent.objects.bulk_create(self.events)
        for model in (
            Coat,
            CoatThickness,
            DryCheck,
            CoatDefect,
            Exposure,
            Washout,
            PressVisit,
            PressReport,
            TensionMeasurement,
        ):
            model.objects.bulk_create(self.details[model])
        TensionValue.objects.bulk_create(self.details[TensionValue])

    def _make_orders(self, records):
        """The jobs that the screens went to press for, numbered up to the first open one."""
        visits = [
            orders.Visit((r.code, r.cycle), r.code, r.at, scenario.MESHES[self.screens[r.code].mesh][0])
            for r in records
            if r.kind == "to_press"
        ]
        past = list(orders.past_orders(visits, scenario.SEED))
        before = int(scenario.JOBS[0][0].removeprefix("J-"))
        made = Job.objects.bulk_create(
            Job(
                number=f"J-{before - len(past) + number:03d}",
                name=order.design.name,
                what=order.design.what,
                press_on=order.visits[-1].at.date(),
            )
            for number, order in enumerate(past)
        )
        pairs = zip(made, past, strict=True)
        self.printed_for = {visit.key: job for job, order in pairs for visit in order.visits}

    def _make_cycles(self, records):
        spans = defaultdict(list)
        for record in records:
            if record.cycle is not None:
                spans[record.code, record.cycle].append(record)
        rows = {
            key: Cycle(
                installation=self.installations[key[0]],
                number=key[1],
                started_at=span[0].at,
                closed_at=span[-1].at if span[-1].kind == "reclaim" else None,
            )
            for key, span in spans.items()
        }
        Cycle.objects.bulk_create(rows.values())
        self.cycles = rows

    def _event(self, record, person, summary, facts=None, wet_minutes=None) -> ScreenEvent:
        facts = dict(facts or {})
        if wet_minutes is not None:
            facts["wet_until"] = (record.at + timedelta(minutes=wet_minutes)).isoformat()
        event = ScreenEvent(
            installation=self.installations[record.code],
            cycle=self.cycles.get((record.code, record.cycle)),
            kind=record.kind,
            at=record.at,
            by=person,
            facts=facts,
            summary=summary,
        )
        self.events.append(event)
        return event

    def _tension(self, record, person):
        readings = read_screen(record.facts["true"], record.facts["seed"])
        summary = summarise(readings, self.house_settings)
        event = self._event(
            record,
            person,
            f"Tension {summary.mean:.1f} N/cm ({summary.lowest:.1f} to {summary.highest:.1f}), {summary.verdict.verdict}",
            {"mean": round(summary.mean, 2)},
        )
        measurement = TensionMeasurement(
            event=event,
            mean=summary.mean,
            lowest=summary.lowest,
            highest=summary.highest,
            warp_mean=summary.warp_mean,
            weft_mean=summary.weft_mean,
            simulated=True,
        )
        self.details[TensionMeasurement].append(measurement)
        self.details[TensionValue] += [
            TensionValue(measurement=measurement, place=r.place, direction=r.direction, n_per_cm=r.n_per_cm)
            for r in readings
        ]

    def _degrease(self, record, person):
        dwell = self.house_settings["degrease.dwell_s"]
        minutes = self.house_settings["degrease.dry_min"]
        self._event(record, person, f"Degreased, {dwell:g} s dwell", {"dwell_s": dwell}, minutes)

    def _dry_mesh(self, record, person):
        self._event(record, person, "Mesh dry to the hand")

    def _coat(self, record, person):
        shop = self.screens[record.code]
        batch = self._batch_for(shop.emulsion, record.at)
        layers = len(parse_formula(shop.formula, self.house_settings).layers)
        hold = hold_minutes(_DRIES, self.house_settings)
        event = self._event(
            record, person, f"Coated {shop.formula}, {batch}", {"layer": layers, "layers": layers}, wet_minutes=hold
        )
        coat = Coat(
            event=event,
            batch=batch,
            formula=shop.formula,
            layer=layers,
            dry_min=_DRIES.value,
            dry_low_min=_DRIES.low,
            dry_high_min=_DRIES.high,
            **self.coat_room.particulars(shop, person),
        )
        self.details[Coat].append(coat)
        if finished(coat):
            self._after_coating(coat, self.meshes[shop.mesh])

    def _after_coating(self, coat, mesh):
        """Looks while it dried, gauge readings, faults."""
        for look, event in self.coat_room.looks(coat, mesh):
            self.details[DryCheck].append(look)
            self.events.append(event)
        if measured := self.coat_room.thickness(coat, mesh):
            self.details[CoatThickness].append(measured[0])
            self.events.append(measured[1])
        self.details[CoatDefect] += self.coat_room.defects(coat)

    def _batch_for(self, emulsion_name, at) -> Batch:
        """The batch in use that month; older ones are made up and finished."""
        emulsion = self.emulsions[emulsion_name]
        live = Batch.objects.filter(emulsion=emulsion, finished_at__isnull=True, mixed_at__lte=at).first()
        if live:
            return live
        code = f"{emulsion.name.split()[-1][0]}{at:%y%m}"
        if code not in self.past_batches:
            first = at.replace(day=1, hour=7, minute=0)
            self.past_batches[code] = Batch.objects.create(
                code=code,
                emulsion=emulsion,
                mixed_at=first,
                mixed_by=self.people["odile"],
                kept_c=20,
                finished_at=first + timedelta(days=33),
            )
        return self.past_batches[code]

    def _expose(self, record, person):
        shop = self.screens[record.code]
        lamp, film_process = self.lamps[shop.lamp], self.film_processes[shop.film_process]
        coat = scenario.TRUE_COATS[shop.mesh]
        if record.facts["is_test"]:
            test = self._step_test(record, shop, lamp, film_process, person)
            given, words, facts = test.planned_times_s[0], f"{test} exposed under {lamp}", {"test": test.pk}
        else:
            given = round(coat.full_cure_s * 1.25 + record.facts["slip"], 1)
            words, facts = f"Exposed {show_seconds(given)} under {lamp} through {film_process}", {}
        event = self._event(record, person, words, facts | {"is_test": record.facts["is_test"], "given_s": given})
        self.details[Exposure].append(
            Exposure(
                event=event,
                lamp=lamp,
                film_process=film_process,
                planned_s=round(given, 1),
                given_s=given,
                units=given * lamp.units_a_second if lamp.units_a_second else None,
            )
        )

    def _step_test(self, record, shop, lamp, film_process, person) -> StepTest:
        guess = round(scenario.TRUE_COATS[shop.mesh].full_cure_s * 1.6)
        plan = plan_moving_card(guess, 7, "sqrt2", self.house_settings, "cover", lamp.start_lag_s)
        return StepTest.objects.create(
            screen=self._screen_row(record.code),
            mesh=self.meshes[shop.mesh],
            formula=shop.formula,
            emulsion=self.emulsions[shop.emulsion],
            batch=self._batch_for(shop.emulsion, record.at),
            lamp=lamp,
            film_process=film_process,
            guess_s=guess,
            series=plan.series,
            card=plan.card,
            lag_s=plan.lag_s,
            length_mm=240,
            planned_times_s=plan.times_s,
            real_times_s=plan.times_s,
            moves=[[m.at_s, m.strip] for m in plan.moves],
            total_s=plan.total_s,
            status=StepTest.Status.EXPOSED,
            lamp_distance_mm=lamp.distance_mm,
            planned_by=person,
            planned_at=record.at - timedelta(minutes=6),
        )

    def _screen_row(self, code) -> Screen:
        installation = self.installations[code]
        row, _ = Screen.objects.get_or_create(
            frame=installation.frame, defaults={"installation": installation, "state": lifecycle.State.BARE}
        )
        return row

    def _read_test(self, record, person):
        shop = self.screens[record.code]
        test = StepTest.objects.get(screen__frame__code=record.code)
        coat = scenario.TRUE_COATS[shop.mesh]
        steps = read_test(coat, test.times_s)
        result = read_grades(steps, "middle", coat.detail_um, self.house_settings)
        reading = TestReading.objects.create(
            step_test=test,
            school="middle",
            wanted_opening_um=coat.detail_um,
            outcome=result.outcome,
            recommended_s=result.recommended.value,
            read_by=person,
            read_at=record.at,
        )
        ReadStep.objects.bulk_create(
            ReadStep(
                reading=reading, strip=s.strip, time_s=s.time_s, grade=s.grade, finest_opening_um=s.finest_opening_um
            )
            for s in steps
        )
        outcome = show_seconds(result.recommended.value) if result.usable else result.outcome
        self._event(record, person, f"{test} read: {outcome}", {"test": test.pk})
        if result.usable:
            time = result.recommended
            ChartEntry.objects.create(
                mesh=test.mesh,
                formula=test.formula,
                emulsion=test.emulsion,
                lamp=test.lamp,
                film_process=test.film_process,
                time_s=time.value,
                low_s=time.low,
                high_s=time.high,
                school="middle",
                reason=time.reason[:400],
                bracketed=result.outcome == TestOutcome.WINDOW,
                lamp_distance_mm=test.lamp_distance_mm,
                reading=reading,
                accepted_by=self.people["odile"],
                accepted_at=record.at + timedelta(minutes=10),
                **ends(result),
            )

    def _wash(self, record, person):
        soak, rinse = record.facts["soak_s"], record.facts["rinse_s"]
        event = self._event(
            record,
            person,
            f"Washed out: soak {soak} s, rinse {rinse} s",
            record.facts,
            self.house_settings["wash.dry_min"],
        )
        self.details[Washout].append(Washout(event=event, soak_s=soak, rinse_s=rinse))

    def _image(self, record, person):
        self._event(record, person, "Image burned into the thermal film")

    def _inspect(self, record, person):
        holes = record.facts["pinholes"]
        blocked = f", {holes} pinhole{'s' if holes > 1 else ''} blocked" if holes else ""
        outcome = "passed" if record.facts["passed"] else "failed"
        self._event(record, person, f"Inspected: {outcome}{blocked}", record.facts)

    def _to_press(self, record, person):
        job = self.printed_for[record.code, record.cycle]
        event = self._event(record, person, f"Sent to press for {job}", {"job": job.number})
        self.details[PressVisit].append(PressVisit(event=event, job=job))

    def _from_press(self, record, person):
        count = record.facts["impressions"]
        event = self._event(
            record, self.people["ines"], f"Back from press: {count} impressions", {"impressions": count}
        )
        self.details[PressReport].append(PressReport(event=event, impressions=count))

    def _strip(self, record, person):
        self._event(record, person, "Ink is out; stencil kept")

    def _reclaim(self, record, person):
        facts = record.facts
        times = "1 round" if facts["rounds"] == 1 else f"{facts['rounds']} rounds"
        self._event(
            record, person, f"Reclaimed in {times}, {facts['minutes']} min: {RECLAIM_OUTCOMES[facts['outcome']]}", facts
        )

    def _projections(self):
        for code, shop in self.screens.items():
            screen = self._screen_row(code)
            life = projected(screen.installation)
            for name in lifecycle.Life.__dataclass_fields__:
                if name not in ("line", "slot"):
                    setattr(screen, name, getattr(life, name))
            bare = life.state in (lifecycle.State.BARE, lifecycle.State.DEGREASED)
            screen.coat_colour = "" if bare or not shop.emulsion else self.emulsions[shop.emulsion].colour
            screen.save()

    def _mark_ghosts(self):
        """A ghost that will not come out lies where the last image did."""
        for code, shop in self.screens.items():
            if shop.past.ghost:
                wide, high = shop.size_mm
                Blemish.objects.create(
                    installation=self.installations[code],
                    kind="ghost",
                    x_mm=wide * 0.38,
                    y_mm=high * 0.42,
                    width_mm=wide * 0.22,
                    height_mm=high * 0.12,
                    at=self.now - timedelta(days=20),
                    by=self.hands[0],
                )

    def _rack_them(self):
        """Bare, kept and old coated screens go to slots that take them; Q-014 stands loose, ready to be picked up."""
        slots = Slot.objects.select_related("rack").order_by("height_mm", "code")
        free = {
            (dark, cabinet): list(slots.filter(rack__dark=dark, rack__cabinet=cabinet))
            for dark, cabinet in ((False, False), (True, False), (True, True))
        }
        events = []
        for screen in Screen.objects.for_lists():
            state = lifecycle.State(screen.state)
            live = state in lifecycle.LIVE
            old = live and screen.coated_at < self.now - timedelta(days=1)
            wet = live and screen.life.wet(self.now)
            if screen.code == "Q-014" or not (state in (lifecycle.State.BARE, lifecycle.State.STRIPPED) or old or wet):
                continue
            slot = self._first_fitting(screen, free[live, wet])
            if slot is None:
                continue
            events.append(
                ScreenEvent(
                    installation=screen.installation,
                    cycle=screen.open_cycle,
                    kind="place",
                    at=(screen.since or screen.frame.registered_at) + timedelta(minutes=2 if wet else 30),
                    by=self.hands[0],
                    facts={"slot": slot.code},
                    summary=f"Put in slot {slot.code}, {slot.rack}",
                )
            )
            screen.slot = slot
            screen.save()
        ScreenEvent.objects.bulk_create(events)

    def _first_fitting(self, screen, slots):
        clearance = self.house_settings["storage.clearance_mm"]
        for slot in slots:
            if (
                screen.frame.outer_width_mm + clearance <= slot.width_mm
                and screen.frame.outer_height_mm + clearance <= slot.height_mm
            ):
                slots.remove(slot)
                return slot
        return None
