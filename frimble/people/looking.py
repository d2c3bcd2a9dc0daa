"""Who may not send a form sees what it would record, and who may; never a form that is refused once it is filled."""

import re

from django.template.loader import render_to_string
from django.urls import Resolver404, resolve

_FORM = re.compile(r'<form(?P<said>[^>]*\bmethod="post"[^>]*)>(?P<inside>.*?)</form>', re.S)
_ACTION = re.compile(r'\saction="([^"]*)"')
_TOKEN = re.compile(r'<input type="hidden" name="csrfmiddlewaretoken"[^>]*>')
_CLASS = re.compile(r'\sclass="([^"]*)"')


class OnlyLooking:
    """Turns the forms of a page that this person may not send into what can only be looked at."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        response = self.get_response(request)
        # Leads may send every form there is.
        if not request.user.is_authenticated or request.user.is_lead or response.streaming:
            return response
        if response.headers.get("Content-Type", "").startswith("text/html"):
            page = response.content.decode(response.charset)
            response.content = _FORM.sub(lambda form: _shown(form, request), page)
        return response


def _shown(form: re.Match, request) -> str:
    action = _ACTION.search(form["said"])
    path = (action[1] if action else "").split("#")[0].split("?")[0] or request.path
    who = refused_to(request.user, path)
    if not who:
        return form[0]
    said = _ACTION.sub("", form["said"]).replace('method="post"', 'method="dialog"')
    classes = _CLASS.search(said)
    marked = f' class="{classes[1] if classes else ""} not-yours"'
    said = _CLASS.sub("", said) + marked
    context = {"said": said, "who": who, "inside": _TOKEN.sub("", form["inside"])}
    return render_to_string("people/only_looking.html", context)


def refused_to(person, path: str) -> str:
    """Who may send to this address, where this person may not; empty where they may."""
    try:
        view = resolve(path).func
    except Resolver404:
        return ""
    allowed = getattr(view, "allowed", None)
    return view.who_may if allowed and not allowed(person) else ""
