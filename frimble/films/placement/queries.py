"""What a placement is made of, from what was typed: the bench, its images and what lies on the screen's mesh."""

from dataclasses import dataclass, replace

from django.db.models import Q

from frimble.core.conclusions import InvalidInput
from frimble.core.film.placement import SHEETS, Art, Bench, PlacedBox, PlacementPlan, plan_films
from frimble.core.mesh.blemishes import in_the_way
from frimble.films.models import Film, FilmProcess
from frimble.people import settings as house_settings
from frimble.screens.blemishes import queries as blemish_queries
from frimble.screens.models import Screen

_OFFERED = 40


def films_offered(job_number: str, chosen=()):
    """The films to choose among: a job's, or the newest; and those that are chosen already."""
    films = Film.objects.filter(job_number=job_number) if job_number else Film.objects.all()
    newest = list(films.values_list("pk", flat=True)[:_OFFERED])
    return Film.objects.filter(Q(pk__in=newest) | Q(pk__in=chosen))


@dataclass(frozen=True)
class LaidImage:
    """An image of a plan, with its film where it is on record."""

    art: Art
    film: Film | None


def images_of(formset) -> list[LaidImage]:
    """The images typed, in their order; rows left empty are none.

    Raises:
        InvalidInput: a film without a size, or a size without the other side.
    """
    rows = [form.cleaned_data for form in formset if form.has_changed()]
    return [LaidImage(_art(row), row.get("record")) for row in rows if row.get("record") or row.get("width")]


def _art(row) -> Art:
    film = row.get("record")
    width, height = row["width"] or (film and film.width_mm), row["height"] or (film and film.height_mm)
    name = row["name"] or (str(film)[:60] if film else "Image")
    if not (width and height):
        raise InvalidInput(
            f"{name}: its width and height are not known. Type both.", "width" if not width else "height"
        )
    given = None if row["x"] is None and row["y"] is None else (row["x"] or 0.0, row["y"] or 0.0)
    kept = _kept_place(film) if film and given is None else None
    return Art(
        name,
        width,
        height,
        used=not row["taped"],
        time_s=row["time"],
        centre_mm=given or (kept.centre_mm if kept else None),
        turned=row["turned"] or bool(kept and kept.turned),
    )


def _kept_place(film: Film) -> Film | None:
    """The film whose place this one takes: its own, else the newest of its job's of the same size."""
    if film.centre_mm:
        return film
    alike = Film.objects.filter(
        job_number=film.job_number, width_mm=film.width_mm, height_mm=film.height_mm, centre_x_mm__isnull=False
    )
    return alike.first() if film.job_number and film.width_mm else None


def plan(cleaned, images: list[LaidImage]) -> PlacementPlan:
    """The plan of these images on this bench.

    Raises:
        InvalidInput: no such screen, no image, or an absurd size.
    """
    on_screen = _screen(cleaned["screen"]) if cleaned["screen"] else None
    bench = _bench(cleaned, on_screen)
    made = plan_films(bench, [i.art for i in images], house_settings.current())
    if on_screen is None:
        return made
    marks = [b.as_core() for b in blemish_queries.standing(on_screen.installation)]
    drawn = tuple(PlacedBox("mark", m.words, m.x_mm, m.y_mm, m.width_mm, m.height_mm) for m in marks)
    warnings = made.warnings + tuple(in_the_way(marks, made.of("image")))
    return replace(made, boxes=made.boxes + drawn, warnings=warnings)


def _bench(cleaned, on_screen) -> Bench:
    size = (cleaned["frame_width"], cleaned["frame_height"])
    if on_screen:
        size = (on_screen.frame.outer_width_mm, on_screen.frame.outer_height_mm)
    if None in size:
        raise InvalidInput("Scan the screen, or type the frame's size.", "frame_width")
    film = SHEETS.get(cleaned["sheet"]) or (cleaned["film"], cleaned["film_length"])
    return Bench(
        *size,
        coater_mm=cleaned["coater"],
        squeegee_mm=cleaned["squeegee"],
        film_mm=film[0],
        film_length_mm=film[1],
        platen_width_mm=cleaned["platen_width"],
        platen_height_mm=cleaned["platen_height"],
        travel_mm=cleaned["travel"],
        transfer=cleaned["transfer"],
        systems=tuple(FilmProcess.objects.filter(widest_mm__isnull=False).values_list("name", "widest_mm")),
    )


def _screen(code: str) -> Screen:
    screen = Screen.objects.for_lists().filter(frame__code=code.strip().upper()).first()
    if screen is None:
        raise InvalidInput(f"No screen is called {code}.", "screen")
    return screen
