"""Placing films on a screen: the plan, drawn to scale, moved by hand, kept with the films, and printed 1:1."""

from django.contrib import messages
from django.db import transaction
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render

from frimble.core.conclusions import InvalidInput
from frimble.films.library import services as library_services
from frimble.films.placement import files
from frimble.films.placement import queries as placement_queries
from frimble.films.placement.forms import ImageFormSet, PlacementForm
from frimble.people.permissions import recorders
from frimble.ui.input import number_in
from frimble.ui.pictures.film.placement import placement_file

_FRAME = {"frame_width": "580", "frame_height": "790"}
_EXAMPLE = [{"name": "Pennant", "width": "250", "height": "180"}]


class _Asked:
    """What a request asks to be planned: its forms, its images and the plan, None where something is wrong."""

    def __init__(self, request):
        asked, job = request.GET.dict(), request.GET.get("job", "").strip().upper()
        named = [number_in(value) for name, value in asked.items() if name.endswith("-record")]
        chosen = [number for number in named if number is not None]
        films = placement_queries.films_offered(job, chosen)
        if "images-TOTAL_FORMS" not in asked:
            asked = _FRAME | asked | _typed([_row(film) for film in films] if job else _EXAMPLE)
        self.form = PlacementForm(asked)
        self.formset = ImageFormSet(asked, prefix="images", form_kwargs={"films": films})
        self.job, self.images, self.plan = job, [], None
        self._work_out()

    def _work_out(self) -> None:
        if not (self.formset.is_valid() and self.form.is_valid()):
            return
        try:
            self.images = placement_queries.images_of(self.formset)
        except InvalidInput as error:
            self.form.add_error(None, str(error))
            return
        self.plan = self.form.attempt(lambda cleaned: placement_queries.plan(cleaned, self.images))

    @property
    def reasons(self) -> str:
        """What is wrong, in one line."""
        forms = [self.form, *self.formset.forms]
        said = [e for form in forms for errors in form.errors.values() for e in errors]
        return " ".join(said) or "Type the frame and an image first."


def _row(film) -> dict:
    """What is on record of a film, as its row would be typed."""
    x, y = film.centre_mm or (None, None)
    known = {"width": film.width_mm, "height": film.height_mm, "x": x, "y": y}
    row = {name: f"{value:g}" for name, value in known.items() if value is not None}
    return row | {"record": film.pk} | ({"turned": "on"} if film.turned else {})


def _typed(rows) -> dict[str, str]:
    """The first rows as if they had been typed, with an empty one after them: a plan stands from the beginning."""
    typed = {"images-TOTAL_FORMS": str(len(rows) + 1), "images-INITIAL_FORMS": "0"}
    for number, row in enumerate(rows):
        typed |= {f"images-{number}-{name}": str(value) for name, value in row.items()}
    return typed


@recorders
def placement(request):
    """The plan for what was typed, with its warnings and printable files; sent, the places are kept with the films."""
    asked = _Asked(request)
    if request.method == "POST" and asked.plan:
        _keep(asked, request)
        return redirect(request.get_full_path())
    wrong = asked.plan is None
    context = {
        "form": asked.form,
        "formset": asked.formset,
        "plan": asked.plan,
        "query": request.GET.urlencode(),
        "keepable": [i.film for i in asked.images if i.film],
        "papers": files.PAPERS,
        "job": asked.job,
    }
    template = "films/placement_plan.html" if request.headers.get("X-Part") else "films/placement.html"
    return render(request, template, context, status=422 if wrong else 200)


@transaction.atomic
def _keep(asked, request) -> None:
    """Keep each image's place with its film, as it is drawn."""
    middle = asked.plan.bench.frame_width_mm / 2, asked.plan.bench.frame_height_mm / 2
    kept = [
        library_services.keep_place(image.film, image.art, box.centre_from(middle))
        for image, box in zip(asked.images, asked.plan.of("image"), strict=True)
        if image.film
    ]
    messages.success(request, f"Kept where {' and '.join(map(str, kept))} lie{'s' if len(kept) == 1 else ''}.")


def as_svg(request):
    """The plan as an SVG at true scale."""
    return _file(request, lambda plan: placement_file(plan).encode(), "image/svg+xml", "svg")


def as_pdf(request):
    """The plan as a PDF page of the frame's own size, or over sheets of the paper that is named."""
    paper = request.GET.get("paper", "")
    if not paper:
        return _file(request, files.whole_pdf, "application/pdf", "pdf")
    if paper not in files.PAPERS:
        raise Http404(f"No paper is called {paper}.")
    return _file(request, lambda plan: files.tiled_pdf(plan, files.PAPERS[paper]), "application/pdf", "pdf")


def _file(request, write, kind, ending):
    asked = _Asked(request)
    if asked.plan is None:
        return HttpResponse(asked.reasons, status=422, content_type="text/plain; charset=utf-8")
    answer = HttpResponse(write(asked.plan), content_type=kind)
    answer["Content-Disposition"] = f'attachment; filename="placement.{ending}"'
    return answer
