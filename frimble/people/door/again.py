"""Somebody was signed out while a form was filled in: they sign in on a page that keeps what was typed, and send it."""

from django.contrib.auth import login
from django.contrib.auth.middleware import LoginRequiredMiddleware
from django.http import QueryDict
from django.shortcuts import render
from django.urls import reverse

from frimble.people.door import throttle
from frimble.people.forms import SignInForm
from frimble.ui.input import kept_fields, send_again

# Before the names of the sign-in's own fields, which stand among those of any form.
_DOOR = "door"


class SignInAgain(LoginRequiredMiddleware):
    """In place of Django's, which leads to the door and leaves what was typed behind.

    It looks at a form after the check against forged ones has, as Django's does.
    """

    def handle_no_permission(self, request, view_func):
        typed = _typed(request)
        if not typed:
            return super().handle_no_permission(request, view_func)
        form = SignInForm(request, request.POST if f"{_DOOR}-username" in request.POST else None, prefix=_DOOR)
        name, wait = request.POST.get(f"{_DOOR}-username", ""), 0.0
        if form.is_bound:
            limits = throttle.limits_for(request, name)
            wait = throttle.begin(limits)
            if not wait and form.is_valid():
                throttle.succeeded(limits)
                return _signed_in(request, form.get_user(), typed)
        context = {
            "form": SignInForm(request, prefix=_DOOR, initial={"username": name[:150]}) if wait else form,
            "wait": throttle.in_words(wait) if wait else "",
            "kept": kept_fields(typed),
            "files": bool(request.FILES),
        }
        return render(request, "people/door/again.html", context, status=429 if wait else 401)


def _signed_in(request, person, typed: QueryDict):
    """What was typed, for one more tap: a station's tablet asks for digits then, a role may be refused."""
    login(request, person)
    request.POST = typed
    answer = send_again(request, "You had been signed out meanwhile, and are signed in again.", 200)
    throttle.remember_device(request, answer, person.get_username())
    return answer


def _typed(request) -> QueryDict | None:
    """What a person typed into a form of ours; None for what a script sends, and for passwords, which no page keeps."""
    by_script = "X-Kept" in request.headers or request.headers.get("Sec-Fetch-Mode", "navigate") != "navigate"
    if request.method != "POST" or by_script or request.content_type == "application/json":
        return None
    if request.path == reverse("people:sign-out"):
        return None
    typed = request.POST.copy()
    for name in ["csrfmiddlewaretoken", *(name for name in typed if name.startswith(f"{_DOOR}-"))]:
        typed.pop(name, None)
    return None if any("password" in name for name in typed) else typed
