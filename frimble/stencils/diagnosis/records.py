"""What is on record of a stencil, as the facts of a diagnosis, each with the record it comes from."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from math import sqrt
from statistics import median
from typing import Any

from django.db.models import QuerySet
from django.utils import timezone

from frimble.coatings.models import Coat, CoaterCheck, CoatThickness
from frimble.coatings.thickness import queries as thickness_queries
from frimble.core.coating.formula import parse_formula
from frimble.core.coating.wet import FILLS
from frimble.core.conclusions import InvalidInput
from frimble.core.emulsion.batch import STANDS
from frimble.core.exposure.light.source import field_of
from frimble.core.film import densities
from frimble.exposures.models import ControlStrip, Exposure, LampRecord
from frimble.exposures.room import LightRoom
from frimble.screens.models import Cycle, ScreenEvent
from frimble.stencils.washing import learning as rinse_learning
from frimble.stencils.washing.models import Washout

_CONTACTS = {"vacuum": "vacuum", "weight": "glass", "blocking": "glass", "none": "none"}
_EDGES = {"good": "clean", "dried": "dirty", "chipped": "chipped"}
# So many washes of an emulsion, or strips under a lamp, tell what is usual.
_USUAL_OF, _LEAST_FOR_USUAL = 40, 5
# So many records of lights and reclaims hold the stencil before, unless it was made long ago.
_FEW = 12


@dataclass(frozen=True)
class Known:
    """A fact and the record it comes from, in words."""

    value: Any
    source: str


def facts_of(screen, settings, now) -> dict[str, Known]:
    """The facts that this screen's own records give for its last stencil, by name."""
    cycles = Cycle.objects.filter(installation=screen.installation_id).order_by("-number")
    of_last = ScreenEvent.objects.standing().filter(cycle=cycles.values("pk")[:1])
    events = list(of_last.select_related("by", "cycle").order_by("at", "pk"))
    # A cycle of which every record was taken back is one all the same.
    cycle = events[0].cycle if events else cycles.first()
    if cycle is None:
        return {}
    facts: dict[str, Known] = {}
    for part in (_mesh(screen), _ways(screen, cycle, events, settings, now)):
        facts.update(part)
    return facts


def _mesh(screen) -> Iterator[tuple[str, Known]]:
    mesh = screen.mesh
    source = f"mesh {mesh.label}"
    yield "mesh_per_cm", Known(mesh.count_per_cm, source)
    if mesh.thread_um:
        yield "thread_um", Known(mesh.thread_um, source)
    if mesh.colour in ("white", "yellow"):
        yield "mesh_colour", Known(str(mesh.colour), source)
    if screen.tension_n_per_cm is not None:
        yield "tension", Known(screen.tension_n_per_cm, f"measured {_day(screen.tension_at)}")


def _ways(screen, cycle, events, settings, now) -> Iterator[tuple[str, Known]]:
    """What each step of the cycle says."""
    yield from _before_the_coat(cycle, events)
    last = _last_of(Coat.objects.select_related("batch__emulsion", "coater"), events, "coat")
    exposure = _last_of(Exposure.objects.select_related("lamp", "film_process", "entry"), events, "expose")
    if last:
        yield from _coat(screen, last, events, exposure.event.at if exposure else now, settings)
    if exposure:
        room = LightRoom(settings)
        yield from _light(exposure, room)
        yield from _film(exposure, room)
    yield from _wash(events, last, exposure, settings)
    yield from _hardened(events)
    yield from _press(events, now)


def _last_of(records: QuerySet, events: Sequence[ScreenEvent], kind: str) -> Any:
    """The last record that belongs to one of these events of its kind, which it need not read again; None without any."""
    known = {event.pk: event for event in events if event.kind == kind}
    if not known:
        return None
    found = list(records.filter(event__in=known))
    for record in found:
        record.event = known[record.event_id]
    return max(found, key=lambda record: (record.event.at, record.pk), default=None)


def _day(moment) -> str:
    return f"{timezone.localtime(moment):%-d %b %Y}"


def _words(event: ScreenEvent) -> str:
    return f"{event.summary[:60].rstrip('.')}, {event.by}, {_day(event.at)}"


def _before_the_coat(cycle: Cycle, events) -> Iterator[tuple[str, Known]]:
    degreased = next((e for e in events if e.kind == "degrease"), None)
    coated = any(e.kind == "coat" for e in events)
    if degreased:
        source = _words(degreased)
        yield "degreased", Known(True, source)
        # It is recorded by who says that it was rinsed.
        yield "rinsed", Known(True, source)
        if degreased.facts.get("look") == "clean":
            yield "mesh_inspected", Known(True, source)
    elif coated:
        yield "degreased", Known(False, "no degreasing is on record before the coat")
    reclaimed, made = _stencil_before(cycle)
    if reclaimed and made:
        yield "last_stencil_age_days", Known((reclaimed.at - made.at).total_seconds() / 86400, _words(reclaimed))


def _stencil_before(cycle: Cycle) -> tuple[ScreenEvent | None, ScreenEvent | None]:
    """The reclaim before a cycle, and the light that the stencil was made with which it took off."""
    of_mesh = ScreenEvent.objects.standing().filter(installation=cycle.installation_id, kind__in=("expose", "reclaim"))
    before = list(of_mesh.filter(at__lte=cycle.started_at).select_related("by").order_by("-at")[:_FEW])
    reclaimed = next((e for e in before if e.kind == "reclaim"), None)
    made = next((e for e in before if e.kind == "expose" and reclaimed and e.at < reclaimed.at), None)
    return reclaimed, made


def _coat(screen, coat: Coat, events, lit_at, settings) -> Iterator[tuple[str, Known]]:
    source, batch = _words(coat.event), coat.batch
    dried = (lit_at - coat.event.at).total_seconds() / 60
    yield "dried_min", Known(dried, source)
    yield "dry_expected_min", Known(coat.dry_min, source)
    yield "dry_expected_high_min", Known(coat.dry_high_min, source)
    yield "humidity", Known(coat.humidity, source)
    yield "temperature_c", Known(coat.air_c, source)
    yield "layers", Known(float(coat.layer), source)
    yield "coat_age_days", Known(dried / 1440, source)
    yield "coat_keeps_days", Known(settings["coat.keeps_days"], "house setting")
    yield "batch_life_used", Known(batch.age(coat.event.at, settings).known, f"batch {batch.code}")
    yield "emulsion_kind", Known(batch.emulsion.kind, batch.emulsion.name)
    if batch.emulsion.kind == "photopolymer":
        yield "sensitised", Known(bool(batch.ratio), f"batch {batch.code}")
    elif batch.ratio:
        yield "sensitised", Known(True, f"batch {batch.code}")
    yield "rested_min", Known((coat.event.at - batch.mixed_at).total_seconds() / 60, f"batch {batch.code}")
    if coat.fill in FILLS:
        yield "fill", Known(FILLS[coat.fill], source)
    if coat.ink:
        yield "ink", Known(coat.ink, source)
    stands = STANDS[batch.emulsion.resists]
    # The register knows solvent ink and plastisol by one word.
    known = (*stands, "plastisol") if "solvent" in stands else stands
    yield "resists", Known(known, batch.emulsion.name)
    yield from _edge(coat)
    yield from _thickness(screen, coat, events, settings)


def _edge(coat: Coat) -> Iterator[tuple[str, Known]]:
    """The last look along the coater's edge before it laid this coat."""
    looks = CoaterCheck.objects.filter(coater=coat.coater_id, at__lte=coat.event.at)
    check = looks.order_by("-at", "-pk").first() if coat.coater_id else None
    if check and check.finding in _EDGES:
        yield "coater", Known(_EDGES[check.finding], f"{coat.coater.name}, looked at {_day(check.at)}")


def _thickness(screen, coat: Coat, events, settings) -> Iterator[tuple[str, Known]]:
    measured = _last_of(CoatThickness.objects.filter(coat=coat), events, "thickness")
    if measured is None:
        return
    yield "thickness_um", Known(measured.eom_um, _words(measured.event))
    try:
        formula = parse_formula(coat.formula, settings)
        aim = thickness_queries.expected(screen.mesh, formula, coat.batch.emulsion, settings, fill=coat.fill)
    except InvalidInput:
        return
    if not aim.refused:
        yield "thickness_aim_um", Known(aim.known, f"usual for {coat.formula} here")


def _light(exposure: Exposure, room: LightRoom) -> Iterator[tuple[str, Known]]:
    source, lamp, entry = _words(exposure.event), exposure.lamp, exposure.entry
    yield "time_s", Known(exposure.given_s, source)
    if entry and entry.has_window:
        window = f"test accepted {_day(entry.accepted_at)}"
        yield "window_low_s", Known(sqrt(entry.cured_low_s * entry.cured_high_s), window)
        yield "window_high_s", Known(sqrt(entry.closes_low_s * entry.closes_high_s), window)
    if lamp.contact in _CONTACTS:
        yield "contact", Known(_CONTACTS[lamp.contact], str(lamp))
    yield from _lamp(exposure, room)
    step, before = _strips(exposure)
    if len(before) >= _LEAST_FOR_USUAL:
        yield "strip_step", Known(step, source)
        yield "strip_usual", Known(float(median(before)), f"the {len(before)} strips before it under {lamp}")


def _strips(exposure: Exposure) -> tuple[float, list[float]]:
    """The step of this exposure's control strip and those of the ones before it of its emulsion, the last first."""
    strips = ControlStrip.objects.filter(lamp=exposure.lamp_id).order_by("-pk")
    own = strips.filter(exposure=exposure.pk)
    alike = strips.filter(pk__lte=own.values("pk")[:1], emulsion=own.values("emulsion")[:1])
    step, *before = [*alike.values_list("step", flat=True)[: _USUAL_OF + 1]] or [0.0]
    return step, before


def _lamp(exposure: Exposure, room: LightRoom) -> Iterator[tuple[str, Known]]:
    """The dimmest place of its field, and its hours since the test that the time came from against what a test holds."""
    lamp, entry = exposure.lamp, exposure.entry
    for mapped in room.records(lamp, LampRecord.Kind.FIELD)[-1:]:
        yield "field_lowest", Known(field_of(mapped.field, room.settings).least, f"{lamp}, mapped {_day(mapped.at)}")
    hours, tested = room.hours(lamp), (entry.facts or {}).get("hours") if entry else None
    if hours is not None and tested is not None:
        yield "lamp_hours_since_test", Known(max(0.0, hours - tested), str(lamp))
        yield "lamp_hours_hold", Known(room.settings["lamp.retest_hours"], "house setting")


def _film(exposure: Exposure, room: LightRoom) -> Iterator[tuple[str, Known]]:
    process, entry = exposure.film_process, exposure.entry
    for name, band in (("film_density_uv", "uv"), ("film_density_visible", "visual")):
        read = room.density(process, band)
        if read:
            yield name, Known(read.dmax, f"film process {process}")
    uv = room.density(process, "uv")
    if uv is None:
        return
    yield "film_clear_density", Known(uv.dmin, f"film process {process}")
    if entry and entry.has_window and not uv.at_least:
        cured = sqrt(entry.cured_low_s * entry.cured_high_s)
        holds = densities.headroom(cured, exposure.given_s, uv.dmax, uv.dmin, "uv", room.settings)
        yield "film_headroom", Known(holds.known, f"film process {process} and the test's full cure")


def _wash(events, coat: Coat | None, exposure: Exposure | None, settings) -> Iterator[tuple[str, Known]]:
    washed = _last_of(Washout.objects.all(), events, "wash")
    if washed is None:
        return
    source = _words(washed.event)
    yield "soak_s", Known(washed.soak_s, source)
    yield "wash_s", Known(washed.rinse_s, source)
    for name, value in (("wash_c", washed.water_c), ("wash_side", washed.side), ("pressure", washed.pressure)):
        if value not in (None, ""):
            yield name, Known(value, source)
    if coat:
        usual = rinse_learning.usual(coat, exposure, settings)
        yield "wash_usual_s", Known(usual.known, f"rests on {usual.rests_on}")


def _hardened(events) -> Iterator[tuple[str, Known]]:
    hardened = next((e for e in reversed(events) if e.kind == "harden"), None)
    passed = next((e for e in reversed(events) if e.kind == "inspect"), None)
    if hardened:
        yield "hardener", Known(hardened.facts["how"], _words(hardened))
    elif passed:
        yield "hardener", Known("none", "no hardening is on record")


def _press(events, now) -> Iterator[tuple[str, Known]]:
    printed = [e for e in events if e.kind == "from_press"]
    if not printed:
        return
    yield "impressions", Known(float(sum(e.facts.get("impressions", 0) for e in printed)), _words(printed[-1]))
    back = printed[-1].at
    stripped = next((e for e in events if e.kind in ("strip", "reclaim") and e.at >= back), None)
    left_h = ((stripped.at if stripped else now) - back).total_seconds() / 3600
    yield "ink_left_h", Known(left_h, _words(stripped or printed[-1]))


def values(known: Mapping[str, Known]) -> dict[str, Any]:
    """The facts without where they come from."""
    return {name: fact.value for name, fact in known.items()}
