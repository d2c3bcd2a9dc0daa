"""A shared tablet: it is signed in as a station account, and each record is signed with a person's four digits.

The record that was sent is held on a page that asks for the digits and sends it again as it was, so that nothing is lost
when they are wrong. What a page sends by itself, such as a tap of the timer, is signed by whoever signed here last.
"""

from django.http import JsonResponse
from django.shortcuts import render
from django.urls import Resolver404, resolve

from frimble.people.accounts import queries
from frimble.people.door import throttle
from frimble.people.models import Person
from frimble.ui.input import kept_fields

FIELD = "person_code"
_SIGNER = "signed_by"


class SharedTablet:
    """Puts who signed in the place of the station account, for the one request."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        if request.method != "POST" or not getattr(request.user, "is_station", False) or not _records(request.path):
            return self.get_response(request)
        if request.content_type == "application/json":
            signer = Person.objects.filter(pk=request.session.get(_SIGNER), is_active=True).first()
            if signer is None:
                return JsonResponse({"error": "Nobody has signed at this tablet yet."}, status=403)
            _record_as(request, signer)
            return self.get_response(request)
        signer, problem = _signer(request)
        if signer is None:
            return _ask(request, problem)
        request.session[_SIGNER] = signer.pk
        _record_as(request, signer)
        return self.get_response(request)


def _record_as(request, signer: Person) -> None:
    """The digits are good for records; what only leads do wants a lead's own sign-in."""
    signer.by_digits = True
    request.user = signer


def _records(path: str) -> bool:
    """Whether what is sent there is guarded by a role: looking ahead, signing out and one's own page are not."""
    try:
        return hasattr(resolve(path).func, "allowed")
    except Resolver404:
        return False


def _signer(request) -> tuple[Person | None, str]:
    """Who signed, or why nobody did."""
    digits = request.POST.get(FIELD, "")
    if not digits:
        return None, ""
    limits = throttle.limits_for(request, "person code")
    wait = throttle.begin(limits)
    if wait:
        return None, f"Too many tries: wait {throttle.in_words(wait)}."
    signer = queries.by_person_code(digits)
    if signer is None:
        return None, "Nobody here signs with these four digits."
    throttle.succeeded(limits)
    return signer, ""


def _ask(request, problem: str):
    """Who records this? What was typed waits on the page."""
    context = {
        "kept": kept_fields(request.POST, but=[FIELD]),
        "problem": problem,
        "field": FIELD,
        "files": bool(request.FILES),
    }
    return render(request, "people/door/who.html", context, status=422)
