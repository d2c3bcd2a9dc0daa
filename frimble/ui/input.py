"""What no page of ours sends: control characters, bodies that cannot be read, numbers that no record can have."""

import logging
import re
from collections.abc import Iterable

from django.core.exceptions import BadRequest
from django.db import DataError
from django.http import Http404, QueryDict
from django.shortcuts import render

from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.ui.faults import told

logger = logging.getLogger(__name__)

# All but tab and the ends of lines; half of a pair that stands alone is no character. A scanner may send some of them.
_CONTROL = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ud800-\udfff]")
# Of a whole number that a database can hold. Source: SQLite, Datatypes, and PostgreSQL, Numeric Types: 64 bits.
_MOST = 2**63 - 1
_TITLES = {404: "Not here", 503: "Not now"}
_UNREADABLE = "What was sent cannot be read. Go back and send it again."


class CleanInput:
    """Takes control characters out of what was typed, and answers in words what could not be read at all."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        if _CONTROL.search(request.path_info):
            return _refused(request, "There is no such page.", 404)
        request.GET = _clean(request.GET)
        if request.method == "POST" and request.content_type != "application/json":
            try:
                request.POST = _clean(request.POST)
            except (LookupError, UnicodeError, BadRequest):
                return _refused(request, _UNREADABLE, 400)
            except OSError as fault:
                # A large file is written to disk while it comes in.
                said = told(fault, writes=True)
                if said is None:
                    raise
                return _refused(request, said.words, said.status)
        return self.get_response(request)

    def process_exception(self, request, fault):
        """A value got through to where it cannot be taken: said in words, and noted so that its form learns to say it."""
        if isinstance(fault, OverflowError | DataError | RecursionError):
            logger.warning("%s at %s: %s", type(fault).__name__, request.resolver_match.view_name, fault)
            return _refused(request, "A number or text is larger than any record can hold.", 400)
        if isinstance(fault, InvalidInput | RuleViolation):
            logger.warning("%s at %s: %s", type(fault).__name__, request.resolver_match.view_name, fault)
            return _refused(request, str(fault), 422)
        said = told(fault, writes=request.method == "POST")
        if said is None:
            return None
        logger.error("%s at %s", fault, request.resolver_match.view_name)
        if said.again:
            return send_again(request, said.words, said.status)
        return _refused(request, said.words, said.status)


def send_again(request, why: str, status: int):
    """Nothing was recorded; what was typed waits on the page for one more tap."""
    context = {
        "why": why,
        "kept": kept_fields(request.POST),
        "path": request.get_full_path(),
        "files": bool(request.FILES),
    }
    context["sent"] = request.method == "POST"
    return render(request, "ui/send_again.html", context, status=status)


def kept_fields(typed: QueryDict, but: Iterable[str] = ()) -> list[tuple[str, str]]:
    """(name, value) of what was typed, to stand hidden in a form that is sent once more; each page has its own token."""
    left_out = {"csrfmiddlewaretoken", *but}
    return [(name, value) for name, values in typed.lists() if name not in left_out for value in values]


def row_number(text: str | None) -> int:
    """A row's number as a page sends it back.

    Raises:
        Http404: it is none.
    """
    number = number_in(text)
    if number is None:
        raise Http404("There is no such record.")
    return number


def number_in(text: str | None) -> int | None:
    """A row's number as a query bears it, where there is one; “²” is a digit to some, and no number."""
    if text and text.isascii() and text.isdigit() and len(text) < 20 and int(text) <= _MOST:
        return int(text)
    return None


def _clean(given: QueryDict) -> QueryDict:
    if not any(_CONTROL.search(f"{name}{value}") for name, values in given.lists() for value in values):
        return given
    cleaned = QueryDict(mutable=True, encoding=given.encoding)
    for name, values in given.lists():
        cleaned.setlist(_CONTROL.sub("", name), [_CONTROL.sub("", value) for value in values])
    cleaned._mutable = False
    return cleaned


def _refused(request, words: str, status: int):
    context = {"title": _TITLES.get(status, "Not taken"), "words": words}
    return render(request, "ui/message.html", context, status=status)
