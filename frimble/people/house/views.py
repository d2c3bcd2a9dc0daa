"""The page of house settings."""

from urllib.parse import urlencode

from django.contrib import messages
from django.shortcuts import redirect, render
from django.utils import timezone

from frimble.core.conclusions import InvalidInput
from frimble.core.settings import MARKS, REGISTER
from frimble.people import settings as house_settings
from frimble.people.house.pages import links
from frimble.people.house.presenters import Problem, groups
from frimble.people.permissions import leads


@leads
def house_settings_page(request):
    """Every limit, default and school with its mark, reason and history; leads change them here."""
    problem = None
    if request.method == "POST":
        key, value, reason = (request.POST.get(name, "") for name in ("key", "value", "reason"))
        try:
            row = house_settings.change(key, value, reason, request.user, timezone.now())
        except InvalidInput as error:
            problem = Problem(key, error.field, str(error), value, reason)
        else:
            messages.success(request, f"{REGISTER[row.key].label}: now {REGISTER[row.key].parse(row.value)}.")
            return redirect(f"{request.path}#{row.key}")
    sought = request.GET.get("q", "").strip()[:80]
    changing = request.GET.get("change", "") if request.user.is_lead else ""
    context = {
        "groups": groups(house_settings.current(), sought, problem, changing),
        "query": f"&{urlencode({'q': sought})}" if sought else "",
        "sought": sought,
        "marks": MARKS,
        "links": links(),
        "problem": problem,
    }
    return render(request, "people/settings.html", context, status=422 if problem else 200)
