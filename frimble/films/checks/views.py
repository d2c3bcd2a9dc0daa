"""The film sheet: a scan with its findings, the loupe, and how far a check has come."""

from django.contrib import messages
from django.http import HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render

from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.core.film.kinds import KINDS
from frimble.films.checks import pictures as scan_pictures
from frimble.films.checks import services as check_services
from frimble.films.checks.forms import AgainForm, JudgeForm
from frimble.films.models import ScanCheck
from frimble.people.permissions import recorders
from frimble.ui.roomlight import asks_dark, in_room_light, picture_answer

_LOUPE_MM = (1, 40)


_FINDINGS_SHOWN = 60


@recorders
def sheet(request, pk):
    """The film sheet: the scan with its findings, a loupe, and what is thought of each."""
    check = get_object_or_404(ScanCheck.objects.select_related("film__process", "mesh", "by"), pk=pk)
    if request.method == "POST" and "keep_density" in request.POST:
        return _keep_density(request, check)
    if request.method == "POST" and "try_again" in request.POST:
        return _try_again(request, check)
    asked_again = request.method == "POST" and "densities" in request.POST
    again = AgainForm(request.POST if asked_again else None, initial=_as_checked(check))
    if asked_again:
        anew = again.attempt(lambda cleaned: check_services.again(check, request.user, **cleaned))
        if anew:
            return redirect("films:sheet", anew.pk)
    form = JudgeForm(None if asked_again else request.POST or None)
    if form.is_bound and form.attempt(lambda cleaned: check_services.judge(check, request.user, **cleaned)):
        return redirect(f"{request.path}#finding-{form.cleaned_data['finding']}")
    context = {"check": check, "film": check.film, "form": form, "again": again, "findings": _judged(check, form)}
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
        messages.success(request, f"Kept: {check_services.keep_density(check, request.user)}.")
    except InvalidInput as error:
        messages.error(request, str(error))
    return redirect("films:sheet", check.pk)


def _try_again(request, check):
    try:
        check_services.try_again(check, request.user)
    except RuleViolation as refusal:
        messages.error(request, refusal.reason)
    return redirect("films:sheet", check.pk)


def _judged(check, form):
    """Each finding with its number, the newest judgement, and what was wrong with one just sent."""
    newest = {j.finding: j for j in check.judgements.select_related("by")}
    refused = str(form["finding"].value()) if form.errors else None
    return [
        f
        | {
            "number": n,
            "judgement": newest.get(n),
            "css": _css(f, newest.get(n)),
            "problems": form["reason"].errors if str(n) == refused else (),
        }
        for n, f in enumerate((check.result or {}).get("findings", []))
    ]


def _css(finding, judgement) -> str:
    """Classes of a finding's mark on the sheet."""
    if judgement and not judgement.accepted:
        return "dismissed"
    return "harmless" if KINDS[finding["kind"]].though_passed else ""


def progress(request, pk):
    """How far a check has come."""
    return JsonResponse(get_object_or_404(ScanCheck, pk=pk).progress())


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
    return picture_answer(scan_pictures.loupe(check, x, y, side, asks_dark(request)))
