"""Import and export, and the whole shop as an open data package."""

import tempfile

from django.contrib import messages
from django.contrib.auth.decorators import login_not_required
from django.http import FileResponse, Http404, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from frimble.core.conclusions import RuleViolation
from frimble.exchange import drafts, lists, matching, taking
from frimble.exchange.forms import ChoicesForm, ListForm, PackageForm
from frimble.exchange.models import Draft, PackageReading
from frimble.exchange.packages import services as packages
from frimble.exchange.packages import writing
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
        brought = shop.attempt(lambda cleaned: packages.bring(cleaned["file"]))
        if brought:
            return redirect("exchange:package", brought.claim)
    elif request.method == "POST":
        draft = form.attempt(lambda cleaned: drafts.bring(cleaned["file"], request.user))
        if draft:
            return redirect("exchange:draft", draft.pk)
    bad = form.errors or shop.errors
    context = {"form": form, "shop": shop, "under_way": packages.under_way()}
    return render(request, "exchange/exchange.html", context, status=422 if bad else 200)


@login_not_required
def package(request, claim):
    """How far a package is read. Its number is the key: whoever brought it is signed out when its people come in."""
    return render(request, "exchange/package.html", {"package": get_object_or_404(PackageReading, claim=claim)})


@require_POST
@leads_only
def read_again(request, claim):
    """One whose reading broke off."""
    try:
        packages.try_again(get_object_or_404(PackageReading, claim=claim))
    except RuleViolation as refused:
        messages.error(request, str(refused))
    return redirect("exchange:package", claim)


@login_not_required
def package_progress(request, claim):
    """How far it is, for its page."""
    return JsonResponse(get_object_or_404(PackageReading, claim=claim).progress())


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
