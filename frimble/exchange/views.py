"""Import and export, and the whole shop as an open data package."""

import tempfile

from django.contrib import messages
from django.http import FileResponse, Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render

from frimble.exchange import drafts, lists, matching, taking
from frimble.exchange.forms import ChoicesForm, ListForm, PackageForm
from frimble.exchange.models import Draft
from frimble.exchange.packages import reading, writing
from frimble.people.permissions import leads, leads_only
from frimble.screens.search import queries as search_queries
from frimble.screens.search.forms import SearchForm

_SHOWN = 40
_WRITERS = {
    "csv": (lists.as_csv, "text/csv; charset=utf-8"),
    "xlsx": (lists.as_xlsx, "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"),
}


@leads
def exchange(request):
    """Hand a list in, or fetch the shop."""
    whole = request.method == "POST" and "package" in request.POST
    form = ListForm(None if whole else request.POST or None, None if whole else request.FILES or None)
    shop = PackageForm(request.POST if whole else None, request.FILES if whole else None)
    if whole:
        done = shop.attempt(lambda cleaned: reading.read_package(cleaned["file"]))
        if done:
            messages.success(request, f"{sum(done.values())} records read. People need new passwords.")
            return redirect("jobs:today")
    elif request.method == "POST":
        draft = form.attempt(lambda cleaned: drafts.bring(cleaned["file"], request.user))
        if draft:
            return redirect("exchange:draft", draft.pk)
    bad = form.errors or shop.errors
    return render(request, "exchange/exchange.html", {"form": form, "shop": shop}, status=422 if bad else 200)


@leads_only
def draft(request, pk):
    """A list's dry run: which column is which, what would be made, every cell that cannot be read; then all or nothing."""
    # The rows are not read while its page asks again and again how far it is.
    shown = get_object_or_404(Draft.objects.defer("rows"), pk=pk)
    if shown.state in (Draft.State.TAKING, Draft.State.DONE):
        return render(request, "exchange/taking.html", {"draft": shown, "number": shown.number})
    form = ChoicesForm(request.POST or _chosen(shown) or _guessed(shown), headings=shown.headings)
    choices = form.choices() if form.is_valid() else None
    if choices and "take" in request.POST and form.attempt(lambda cleaned: taking.take_over(shown, choices)):
        return redirect("exchange:draft", pk)
    if "drop" in request.POST:
        drafts.drop(shown)
        return redirect("exchange:exchange")
    tried = taking.look(shown, choices) if choices else None
    context = {"draft": shown, "form": form, "tried": tried}
    if tried:
        context |= {
            "errors": tried.errors[:_SHOWN],
            "more": max(0, len(tried.errors) - _SHOWN),
            "rows": tried.rows[:_SHOWN],
        }
    return render(request, "exchange/draft.html", context, status=422 if form.errors else 200)


def _chosen(draft: Draft) -> dict:
    """What was chosen when it was tried and not taken over."""
    if not draft.choices:
        return {}
    columns = {f"column_{name}": str(at) for name, at in draft.choices["columns"].items()}
    return columns | {name: draft.choices[name] for name in ("unit", "counts", "dates")}


def _guessed(draft: Draft) -> dict:
    columns = matching.guess_columns(draft.headings)
    guessed = {f"column_{name}": str(at) for name, at in columns.items()}
    return (
        guessed
        | {"unit": matching.guess_unit(draft.rows, columns), "counts": "ask"}
        | {"dates": matching.guess_dates(draft.rows, columns)}
    )


def export(request, kind):
    """Screens that a search finds, as a file."""
    if kind not in _WRITERS:
        raise Http404("There is no such kind of list.")
    form = SearchForm(request.GET or {"order": "code"})
    screens = form.attempt(lambda cleaned: search_queries.search(search_queries.SearchRequest(**cleaned)))
    if screens is None:
        return HttpResponse("The search cannot be read.", status=422, content_type="text/plain; charset=utf-8")
    write, content_type = _WRITERS[kind]
    answer = HttpResponse(write(screens), content_type=content_type)
    answer["Content-Disposition"] = f'attachment; filename="screens.{kind}"'
    return answer


def whole_shop(request):
    """The shop as a data package; leads only, it holds everything."""
    if not request.user.is_lead:
        raise Http404("Only a lead fetches the whole shop.")
    file = tempfile.TemporaryFile()  # noqa: SIM115 - the answer closes it
    writing.write_package(file)
    file.seek(0)
    return FileResponse(file, as_attachment=True, filename="frimble-shop.zip")
