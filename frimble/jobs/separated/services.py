"""A set of separations becomes a job's films and colours, each film checked."""

from collections.abc import Sequence

from django.db import transaction

from frimble.core.conclusions import InvalidInput
from frimble.core.film.colours import in_order
from frimble.films.checks.services import submit
from frimble.films.library.services import add_film
from frimble.films.models import Film
from frimble.jobs import services
from frimble.jobs.models import Job

_MOST_FILES = 24


@transaction.atomic
def take_separations(
    job: Job, person, settings, *, files: Sequence, dpi, encoding: str, mesh, formula: str, process=None
) -> list[Film]:
    """All of the files or none: a film and a colour of the job for each, in the order of printing, its check queued.

    Raises:
        InvalidInput: a file that cannot be read, named with what is wrong; two of one name; too many.
    """
    if len(files) > _MOST_FILES:
        raise InvalidInput(f"{_MOST_FILES} files at most at once; {len(files)} were chosen.", "files")
    by_name = {file.name: file for file in files}
    if len(by_name) < len(files):
        raise InvalidInput("Two files have one name.", "files")
    films = []
    for told in in_order(list(by_name)):
        colour = told.colour or told.name.rsplit(".", 1)[0][:40]
        film = add_film(person, name=job.name, job_number=job.number, separation=colour, process=process, kept_at="")
        try:
            submit(film, person, scan=by_name[told.name], dpi=dpi, encoding=encoding, wedge="", mesh=mesh)
        except InvalidInput as error:
            raise InvalidInput(f"{told.name}: {error}", "files") from None
        services.add_need(job, mesh, formula, 1, settings, colour=colour, film=film)
        films.append(film)
    return films
