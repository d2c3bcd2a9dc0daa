"""Labels for screens: one as SVG, many as a PDF on common sheets."""

from django.http import HttpResponse
from django.shortcuts import render

from frimble.core.conclusions import InvalidInput
from frimble.screens.labels.forms import LabelForm
from frimble.screens.models import Screen
from frimble.screens.steps.pages import get_screen
from frimble.ui import labels as drawn

_MOST = 500


def label_of(screen: Screen) -> drawn.Label:
    """What stands on a screen's label."""
    size = f"{screen.frame.outer_width_mm / 10:g} x {screen.frame.outer_height_mm / 10:g} cm"
    return drawn.Label(screen.code, str(screen.mesh), f"{size}, {screen.frame.get_material_display()}")


def labels(request):
    """Which screens get a label, and on which sheet; the first is shown as it will be."""
    form = LabelForm(request.GET if "codes" in request.GET else None, initial={"codes": "", "start": 1})
    chosen = form.attempt(lambda cleaned: _screens(cleaned["codes"])) if form.is_bound else None
    context = {
        "form": form,
        "number": len(chosen) if chosen else 0,
        "first": drawn.as_svg(label_of(chosen[0])) if chosen else "",
        "query": request.GET.urlencode(),
    }
    return render(request, "screens/labels/labels.html", context, status=422 if form.errors else 200)


def as_pdf(request):
    """The sheets."""
    form = LabelForm(request.GET)
    data = form.attempt(
        lambda cleaned: drawn.as_pdf(
            [label_of(s) for s in _screens(cleaned["codes"])], drawn.SHEETS[cleaned["sheet"]], cleaned["start"]
        )
    )
    if data is None:
        said = " ".join(e for errors in form.errors.values() for e in errors)
        return HttpResponse(said, status=422, content_type="text/plain; charset=utf-8")
    answer = HttpResponse(data, content_type="application/pdf")
    answer["Content-Disposition"] = 'inline; filename="labels.pdf"'
    return answer


def as_svg(request, code):
    """One screen's label."""
    answer = HttpResponse(drawn.as_svg(label_of(get_screen(code))), content_type="image/svg+xml")
    answer["Content-Disposition"] = 'inline; filename="label.svg"'
    return answer


def _screens(text: str) -> list[Screen]:
    """The screens named, in that order; `Q-001..Q-020` names a run.

    Raises:
        InvalidInput: a code that no screen has.
    """
    wanted = []
    for word in text.upper().replace(",", " ").split():
        first, _, last = word.partition("..")
        if last:
            run = Screen.objects.filter(frame__code__gte=first, frame__code__lte=last)
            wanted += run.values_list("frame__code", flat=True)[:_MOST]
        else:
            wanted.append(word)
    screens = {s.code: s for s in Screen.objects.for_lists().filter(frame__code__in=wanted)}
    unknown = [code for code in wanted if code not in screens]
    if unknown:
        raise InvalidInput(f"No screen is called {', '.join(unknown[:5])}.", "codes")
    if not wanted:
        raise InvalidInput("Name at least one screen, such as Q-014 or Q-001..Q-020.", "codes")
    if len(wanted) > _MOST:
        raise InvalidInput(f"{len(wanted)} labels at once are more than {_MOST}.", "codes")
    return [screens[code] for code in wanted]
