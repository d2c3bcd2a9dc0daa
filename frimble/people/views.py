"""Switching light and units, and the house settings page."""

from itertools import groupby

from django.contrib import messages
from django.http import HttpResponseBadRequest
from django.shortcuts import redirect, render
from django.utils import timezone
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_POST

from frimble.core.conclusions import InvalidInput
from frimble.core.settings import GROUPS, MARKS, REGISTER
from frimble.people import services
from frimble.people import settings as house_settings
from frimble.people.models import HouseSetting
from frimble.people.permissions import leads


@require_POST
def set_preference(request, name):
    """Switch light or units and go back to the same page."""
    try:
        services.set_preference(request.user, name, request.POST.get("value", ""))
    except InvalidInput as error:
        return HttpResponseBadRequest(str(error))
    back = request.POST.get("next", "/")
    if not url_has_allowed_host_and_scheme(back, allowed_hosts={request.get_host()}):
        back = "/"
    return redirect(back)


@leads
def house_settings_page(request):
    """Every limit, default and school with its mark, reason and history; leads change them here."""
    problem = None
    if request.method == "POST":
        try:
            row = house_settings.change(
                request.POST.get("key", ""),
                request.POST.get("value", ""),
                request.POST.get("reason", ""),
                request.user,
                timezone.now(),
            )
        except InvalidInput as error:
            problem = {"key": request.POST.get("key"), "message": str(error), "field": error.field}
        else:
            messages.success(request, f"{REGISTER[row.key].label}: now {row.value}.")
            return redirect(f"{request.path}#{row.key}")
    context = {
        "groups": _groups(house_settings.current(), problem, request.POST),
        "marks": MARKS,
        "problem": problem,
    }
    return render(request, "people/settings.html", context, status=422 if problem else 200)


def _groups(settings, problem, typed):
    changed = {row.key: row for row in HouseSetting.objects.select_related("changed_by")}
    past = {}
    for entry in HouseSetting.history.select_related("changed_by"):
        past.setdefault(entry.key, []).append(entry)
    rows = []
    for item in REGISTER.values():
        failed = problem and problem["key"] == item.key
        rows.append(
            {
                "item": item,
                "shown": item.shown(settings[item.key]),
                "changed": changed.get(item.key),
                "history": past.get(item.key, []),
                "typed": typed.get("value") if failed else settings[item.key],
                "typed_reason": typed.get("reason", "") if failed else "",
                "problem": problem if failed else None,
            }
        )
    order = list(GROUPS)
    rows.sort(key=lambda r: order.index(r["item"].group))
    return [(GROUPS[key], list(group)) for key, group in groupby(rows, key=lambda r: r["item"].group)]
