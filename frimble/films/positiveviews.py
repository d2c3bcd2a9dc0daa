"""Film positives: the list, one film's record, its scan's check, and the film sheet."""

from django.contrib import messages
from django.core.paginator import Paginator
from django.db.models import Q
from django.http import HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render

from frimble.core.conclusions import OutOfRange
from frimble.films import actions, checking, judging, scanpictures
from frimble.films.forms import AgainForm, JudgeForm, PositiveForm, ScanForm, TouchUpForm
from frimble.films.models import Positive, ScanCheck
from frimble.people.permissions import recorders
from frimble.ui.roomlight import asks_dark, in_room_light, picture_answer

_LOUPE_MM = (1, 40)
_FILMS_A_PAGE = 50
_FINDINGS_SHOWN = 60


def positives(request):
    """Every film with its last check, or those whose name, job or place holds what was typed."""
    films = Positive.objects.select_related("system").prefetch_related("checks")
    text = request.GET.get("q", "").strip()
    for word in text.split():
        films = films.filter(
            Q(name__icontains=word)
            | Q(separation__icontains=word)
            | Q(job_number__iexact=word)
            | Q(kept_at__icontains=word)
        )
    page = Paginator(films, _FILMS_A_PAGE).get_page(request.GET.get("page"))
    return render(request, "films/positives.html", {"page": page, "text": text})


@recorders
def add_positive(request):
    """A new film on the bench."""
    form = PositiveForm(request.POST or None, initial={"job_number": request.GET.get("job", "")})
    if request.method == "POST":
        film = form.attempt(lambda cleaned: actions.add_positive(request.user, **cleaned))
        if film:
            messages.success(request, f"{film} is on the bench. Scan it next.")
            return redirect("films:positive", film.pk)
    return render(request, "films/add_positive.html", {"form": form}, status=422 if form.errors else 200)


@recorders
def positive(request, pk):
    """One film: what it is, its checks, its touch-ups; and the place to hand in a scan."""
    film = get_object_or_404(Positive.objects.select_related("system"), pk=pk)
    touching = request.method == "POST" and "words" in request.POST
    scan_form = ScanForm(None if touching else request.POST or None, None if touching else request.FILES or None)
    touch_form = TouchUpForm(request.POST if touching else None)
    if touching:
        if touch_form.attempt(lambda cleaned: actions.touch_up(film, request.user, **cleaned)):
            messages.success(request, "Written down.")
            return redirect("films:positive", pk)
    elif request.method == "POST":
        check = scan_form.attempt(lambda cleaned: checking.submit(film, request.user, **cleaned))
        if check:
            return redirect("films:sheet", check.pk)
    bad = scan_form.errors or touch_form.errors
    context = {"film": film, "form": scan_form, "touch": touch_form, "checks": film.checks.select_related("by")}
    return render(request, "films/positive.html", context, status=422 if bad else 200)


@recorders
def sheet(request, pk):
    """The film sheet: the scan with its findings, a loupe, and what is thought of each."""
    check = get_object_or_404(ScanCheck.objects.select_related("positive__system", "mesh", "by"), pk=pk)
    if request.method == "POST" and "keep_density" in request.POST:
        return _keep_density(request, check)
    asked_again = request.method == "POST" and "densities" in request.POST
    again = AgainForm(request.POST if asked_again else None, initial=_as_checked(check))
    if asked_again:
        anew = again.attempt(lambda cleaned: checking.again(check, request.user, **cleaned))
        if anew:
            return redirect("films:sheet", anew.pk)
    form = JudgeForm(None if asked_again else request.POST or None)
    if form.is_bound and form.attempt(lambda cleaned: judging.judge(check, request.user, **cleaned)):
        return redirect(f"{request.path}#finding-{form.cleaned_data['finding']}")
    context = {"check": check, "film": check.positive, "form": form, "again": again, "findings": _judged(check, form)}
    listed = context["findings"] if "all" in request.GET else context["findings"][:_FINDINGS_SHOWN]
    context["listed"], context["unlisted"] = listed, len(context["findings"]) - len(listed)
    context["open_number"] = sum(f["judgement"] is None for f in context["findings"])
    return render(request, "films/sheet.html", context, status=422 if form.errors or again.errors else 200)


def _as_checked(check) -> dict:
    """The wedge and the mesh of a check, to begin the next from."""
    wedge = (check.result or {}).get("wedge")
    start = {"mesh": check.mesh_id}
    if wedge is None:
        return start
    place = {k: round(wedge[k], 2) for k in ("x_mm", "y_mm", "patch_mm")}
    return start | place | {"densities": "/".join(f"{d:g}" for d in wedge["densities"])}


def _keep_density(request, check):
    try:
        messages.success(request, f"Kept: {judging.keep_density(check, request.user)}.")
    except OutOfRange as error:
        messages.error(request, str(error))
    return redirect("films:sheet", check.pk)


def _judged(check, form):
    """Each finding with its number, the newest judgement, and what was wrong with one just sent."""
    newest = {j.finding: j for j in check.judgements.select_related("by")}
    refused = str(form["finding"].value()) if form.errors else None
    return [
        f | {"number": n, "judgement": newest.get(n), "problems": form["reason"].errors if str(n) == refused else ()}
        for n, f in enumerate((check.result or {}).get("findings", []))
    ]


def separations(request, job_number):
    """The films of one job laid over each other by their register marks, each against the first."""
    films = Positive.objects.filter(job_number__iexact=job_number).prefetch_related("checks").order_by("made_at", "pk")
    checked = [(film, next((c for c in film.checks.all() if c.result), None)) for film in films]
    measured = [(film, check) for film, check in checked if check]
    context = {
        "job_number": job_number.upper(),
        "reference": measured[0] if measured else None,
        "rows": [_against(measured[0][1], film, check) for film, check in measured[1:]],
        "unchecked": [film for film, check in checked if not check],
    }
    return render(request, "films/separations.html", context)


def _against(reference, film, check):
    from frimble.core.film import registration

    row = {"film": film, "check": check}
    try:
        fit = registration.compare(reference.result["marks"], check.result["marks"])
    except OutOfRange as error:
        return row | {"refusal": str(error)}
    line_mm = reference.result["limits"]["line_mm"]
    twice = film.separation and film.separation == reference.positive.separation
    verdict = (registration.judge_stack if twice else registration.judge)(fit, line_mm)
    return row | {"fit": fit, "verdict": verdict, "twice": twice}


def progress(request, pk):
    """How far a check has come."""
    check = get_object_or_404(ScanCheck, pk=pk)
    return JsonResponse({"state": check.state, "share": check.share_done, "doing": check.doing})


def picture(request, pk):
    """The sheet's picture in the light of the room."""
    check = get_object_or_404(ScanCheck, pk=pk, state=ScanCheck.State.DONE)
    return picture_answer(in_room_light(check.picture, request))


def densities(request, pk):
    """The sheet's density map, for the page to read under the pointer; it is never shown."""
    check = get_object_or_404(ScanCheck, pk=pk, state=ScanCheck.State.DONE)
    with check.densities.open() as file:
        return picture_answer(file.read())


def loupe(request, pk):
    """The scan at full resolution about a place in mm."""
    check = get_object_or_404(ScanCheck, pk=pk, state=ScanCheck.State.DONE)
    try:
        x, y, side = (float(request.GET[k]) for k in ("x", "y", "side"))
    except (KeyError, ValueError):
        return HttpResponse("x, y and side are wanted, in mm.", status=400, content_type="text/plain")
    low, high = _LOUPE_MM
    if not (low <= side <= high and abs(x) < 1e4 and abs(y) < 1e4):
        return HttpResponse(f"The loupe shows {low} to {high} mm of the sheet.", status=400, content_type="text/plain")
    return picture_answer(scanpictures.loupe(check, x, y, side, asks_dark(request)))
