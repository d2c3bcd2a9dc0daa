"""Two step tests set against each other."""

from django.contrib import messages
from django.shortcuts import redirect, render

from frimble.core.conclusions import InvalidInput
from frimble.exposures.steptests.comparison import queries as comparison_queries
from frimble.exposures.steptests.comparison import services as comparison_services
from frimble.exposures.steptests.comparison.forms import ComparisonForm
from frimble.people.permissions import recorders


@recorders
def compare(request):
    """Choose two read tests; see what differs and by how much; keep the answer to a question."""
    asked = request.POST or request.GET
    tests = comparison_queries.comparable([asked.get("one", ""), asked.get("other", "")])
    comparison = None
    if request.method == "POST":
        form = ComparisonForm(request.POST, tests=tests)
        kept = form.attempt(lambda data: _keep(data, request.user))
        if kept:
            messages.success(request, f"Kept: {kept}")
            return redirect("exposures:tests")
    else:
        chosen = "one" in request.GET and "other" in request.GET
        form = ComparisonForm(request.GET if chosen else None, initial=request.GET.dict(), tests=tests)
    if form.is_bound:
        # What was compared stays in sight while the question is asked for.
        pair = ComparisonForm(form.data, tests=tests) if request.method == "POST" else form
        comparison = pair.attempt(lambda data: comparison_queries.compare(data["one"], data["other"]))
    context = {"form": form, "found": comparison, "enough": len(form.tests) > 1}
    return render(request, "exposures/steptests/compare.html", context, status=422 if form.errors else 200)


def _keep(data, person):
    if not data["question"].strip():
        raise InvalidInput("Say in a few words what the trial was to tell.", "question")
    return comparison_services.keep(data["one"], data["other"], data["question"].strip(), person)
