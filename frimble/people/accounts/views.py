"""The people of the room for the lead, everybody's own page, and coming in by a one-time code."""

from django.contrib import messages
from django.contrib.auth import login, update_session_auth_hash
from django.contrib.auth.decorators import login_not_required
from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_POST

from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.people import settings as house_settings
from frimble.people.accounts import forms, presenters, services
from frimble.people.door import sessions, throttle
from frimble.people.models import Person
from frimble.people.permissions import leads, leads_only
from frimble.people.services import set_own
from frimble.ui.labels import qr_picture

# Where a code that was just made waits for its one showing.
_SHOWN_ONCE = "new_sign_in_code"
BACKEND = "django.contrib.auth.backends.ModelBackend"


@leads
def people(request):
    """Who belongs to the room, what each may do, and how each stands at the door."""
    return render(request, "people/accounts/people.html", {"rows": presenters.rows(), "roles": _roles()})


@leads_only
def add_person(request):
    """Somebody new, with a one-time code to hand over."""
    form = forms.AddPersonForm(request.POST or None)
    if request.method == "POST":
        units = house_settings.current()["room.units"]
        person = form.attempt(lambda data: services.add(data["username"], data["shown_name"], data["role"], units))
        if person:
            return _with_new_code(request, person)
    return render(request, "people/accounts/add.html", {"form": form, "roles": _roles()}, status=_status(form))


@leads_only
@never_cache
def person(request, pk):
    """One person: role, code, sessions, leaving; a code that was just made is shown this once."""
    somebody = get_object_or_404(Person, pk=pk)
    given = {"shown_name": str(somebody), "role": somebody.role}
    form = forms.PersonForm(request.POST or None, initial=given)
    if request.method == "POST" and form.attempt(lambda data: services.change(somebody, **data)):
        messages.success(request, f"{somebody}: {somebody.get_role_display()}.")
        return redirect("people:person", pk)
    somebody = get_object_or_404(Person, pk=pk)
    context = {
        "somebody": somebody,
        "form": form,
        "roles": _roles(),
        "sessions": presenters.session_rows(somebody, request.session.session_key),
        **_code_shown(request, somebody),
    }
    return render(request, "people/accounts/person.html", context, status=_status(form))


def _code_shown(request, somebody) -> dict:
    kept = request.session.get(_SHOWN_ONCE)
    if request.method != "GET" or not kept or kept[0] != somebody.pk:
        return {}
    del request.session[_SHOWN_ONCE]
    address = request.build_absolute_uri(reverse("people:code", args=[kept[1]]))
    return {"code": kept[1], "address": address, "picture": qr_picture(address)}


_DEEDS = {
    "code": lambda person, request: None,
    "leave": lambda person, request: services.leave(person),
    "return": lambda person, request: services.come_back(person),
    "sign-out": lambda person, request: services.sign_out_everywhere(person, request.session.session_key),
}
_SAID = {
    "leave": "has left; the records stay",
    "return": "is back: make a code",
    "sign-out": "is signed out everywhere",
}


@require_POST
@leads_only
def do_to_person(request, pk, deed):
    """One tap on a person's page: a new code, leaving, coming back, signing out."""
    somebody = get_object_or_404(Person, pk=pk)
    if deed != "code" and deed not in _DEEDS:
        raise Http404("Nothing of that name is done to a person.")
    try:
        if deed == "code":
            return _with_new_code(request, somebody)
        _DEEDS[deed](somebody, request)
    except RuleViolation as refusal:
        messages.error(request, refusal.reason)
    else:
        messages.success(request, f"{somebody} {_SAID[deed]}.")
    return redirect("people:person", pk)


def _with_new_code(request, somebody):
    request.session[_SHOWN_ONCE] = [somebody.pk, services.make_code(somebody, request.user)]
    return redirect("people:person", somebody.pk)


@never_cache
def own(request):
    """Everybody's own page: units, light, keys; password, four digits, sessions."""
    me, which = request.user, request.POST.get("which", "")
    made = {
        name: kind(request.POST if which == name else None, initial=_own_values(me))
        for name, kind in _OWN_FORMS.items()
    }
    if which in made and (said := made[which].attempt(lambda data: _OWN_DEEDS[which](request, data))):
        messages.success(request, said)
        return redirect("people:own")
    context = {"forms": made, "sessions": presenters.session_rows(me, request.session.session_key)}
    status = 422 if any(form.errors for form in made.values()) else 200
    return render(request, "people/accounts/own.html", context, status=status)


def _own_values(me) -> dict:
    return {"units": me.units, "light": me.light, "keys": me.keys}


def _change_password(request, data) -> str:
    services.change_password(request.user, data["old"], data["password"])
    # Every session ended with the old password; this one goes on under a new key.
    request.session.create()
    login(request, request.user, backend=BACKEND)
    update_session_auth_hash(request, request.user)
    return "The new password holds; all your other sessions ended."


def _set_person_code(request, data) -> str:
    services.set_person_code(request.user, data["digits"])
    return "Your four digits hold." if data["digits"] else "You sign at no shared tablet."


def _set_own(request, data) -> str:
    set_own(request.user, **data)
    return "Kept for you on every page."


_OWN_FORMS = {"own": forms.OwnForm, "password": forms.ChangePasswordForm, "digits": forms.PersonCodeForm}
_OWN_DEEDS = {"own": _set_own, "password": _change_password, "digits": _set_person_code}


@require_POST
def end_session(request):
    """End one session of one's own, or all but this one."""
    key = request.POST.get("session", "")
    try:
        if key:
            services.end_session(request.user, key)
        else:
            services.sign_out_everywhere(request.user, request.session.session_key)
    except InvalidInput as error:
        messages.error(request, str(error))
    else:
        messages.success(request, "Ended." if key else "All your other sessions ended.")
    return redirect("people:own")


@require_POST
@leads_only
def tablet(request):
    """This browser is registered as a tablet of the room, or no longer is."""
    yes = request.POST.get("value") == "yes"
    messages.success(request, "This tablet belongs to the room now." if yes else "It is no tablet of the room now.")
    response = redirect("people:own")
    sessions.make_tablet(request, response, yes)
    return response


@login_not_required
def ask_code(request):
    """Coming in by a one-time code that stands on paper."""
    form = forms.CodeForm(request.POST or None)
    if request.method == "POST" and form.attempt(lambda data: _tried(request, data["code"])):
        return redirect("people:code", form.cleaned_data["code"].strip())
    return render(request, "people/accounts/ask_code.html", {"form": form}, status=_status(form))


@login_not_required
@never_cache
def code(request, code):
    """The one-time code is good: set the own password, and be signed in."""
    form = forms.NewPasswordForm(request.POST or None)
    try:
        row = _tried(request, code)
    except InvalidInput as error:
        asked = forms.CodeForm({"code": code})
        asked.is_valid()
        asked.add_error("code", str(error))
        return render(request, "people/accounts/ask_code.html", {"form": asked}, status=422)
    if request.method == "POST":
        somebody = form.attempt(lambda data: services.use_code(code, data["password"]))
        if somebody:
            login(request, somebody, backend=BACKEND)
            messages.success(request, "Your password holds from now on.")
            return redirect("jobs:today")
    return render(request, "people/accounts/code.html", {"form": form, "somebody": row.person}, status=_status(form))


def _tried(request, code):
    """The code if it is good; who tries many waits."""
    limits = throttle.limits_for(request, "one-time code")
    wait = throttle.begin(limits)
    if wait:
        raise InvalidInput(f"Too many tries: wait {throttle.in_words(wait)}.", "code")
    row = services.find_code(code)
    throttle.succeeded(limits)
    return row


def _roles() -> list[tuple[str, str]]:
    return [(role.label, words) for role, words in presenters.ROLES.items()]


def _status(form) -> int:
    return 422 if form.errors else 200
