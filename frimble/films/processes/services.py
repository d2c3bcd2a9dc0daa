"""Ways of making films entered, and their densities recorded by their route."""

from django.utils import timezone

from frimble.core.conclusions import InvalidInput, require_positive
from frimble.core.film import densities
from frimble.core.film.costs import film_cost
from frimble.films.models import DensityReading, FilmProcess
from frimble.people import settings as house_settings

_SETTINGS = ("how_made", "settings")


_COSTS = ("machine_price", "life_films", "ink_a_film", "sheet_a_film", "spoilage")


def save_process(process: FilmProcess, **typed) -> FilmProcess:
    """Write a film process, new or changed; another printer, ink, sheet or setting makes its densities stale.

    Raises:
        InvalidInput: a cost that cannot be, or a name that is taken.
    """
    if FilmProcess.objects.filter(name__iexact=typed["name"]).exclude(pk=process.pk).exists():
        raise InvalidInput(f"There is a film process called {typed['name']} already.", "name")
    if typed["widest_mm"] is not None:
        require_positive(typed["widest_mm"], "The widest sheet, in mm,", "widest_mm")
    costs = [typed[k] for k in _COSTS]
    if all(c is not None for c in costs):
        film_cost(*costs)
    if process.pk and any(getattr(process, k) != typed[k] for k in _SETTINGS):
        process.settings_changed_at = timezone.now()
    for name, value in typed.items():
        setattr(process, name, value)
    process.save()
    return process


def record_densitometer(
    process: FilmProcess, person, *, band, dmax, dmin, setting="", simulated=False
) -> DensityReading:
    """Densities as a densitometer shows them.

    Raises:
        InvalidInput: an absurd density, or a black no denser than the clear film.
    """
    return _store(process, person, band, "densitometer", dmax, dmin, setting=setting, simulated=simulated)


def record_meter(
    process: FilmProcess, person, *, band, without_film, with_clear, with_black, setting=""
) -> DensityReading:
    """Densities from a light meter without film, under clear film and under black; nothing under black is a bound.

    Raises:
        InvalidInput: a reading is not positive, or film lets more through than there is.
    """
    least = house_settings.current()["film.meter_least"]
    dmax = densities.density_from_meter(without_film, max(with_black, least))
    dmin = densities.density_from_meter(without_film, with_clear)
    detail = f"Meter {without_film:g} without, {with_clear:g} under clear, {with_black:g} under black film."
    return _store(
        process, person, band, "meter", dmax, dmin, detail=detail, setting=setting, at_least=with_black <= least
    )


def record_hold_out(
    process: FilmProcess, person, *, gel_time_s, work_s, last_clear, first_scummed, dmin, setting=""
) -> DensityReading:
    """UV density from a hold-out test in the lamp's own band; `first_scummed` None means all rinsed clear.

    Raises:
        InvalidInput: multiples out of order, or an absurd time.
    """
    density = densities.from_hold_out(gel_time_s, work_s, last_clear, first_scummed, house_settings.current())
    return _store(
        process,
        person,
        "uv",
        "hold_out",
        density.value + dmin,
        dmin,
        detail=density.reason,
        setting=setting,
        at_least=first_scummed is None,
    )


def _store(process, person, band, route, dmax, dmin, **fields) -> DensityReading:
    densities.judge_film(dmax, dmin, band, house_settings.current())
    densities.leak_time_s(1, dmax, dmin, house_settings.current())
    return DensityReading.objects.create(
        process=process,
        band=band,
        route=route,
        dmax=round(dmax, 3),
        dmin=round(dmin, 3),
        at=timezone.now(),
        by=person,
        **fields,
    )
