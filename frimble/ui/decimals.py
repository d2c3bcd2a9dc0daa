"""A decimal comma on pages and paper, for a house that writes so; what is typed is understood either way."""

import re
from contextvars import ContextVar

# Words between tags and those that are read out, but nothing that is code or was typed.
_WORDS = re.compile(
    r"<(script|style|textarea|code|pre)\b.*?</\1>|>(?P<text>[^<]+)(?=<)"
    r'|(?<= )(?:aria-label|title|alt|placeholder)="(?P<said>[^"]*)"',
    re.DOTALL,
)
_TYPED = re.compile(r'<input\b[^>]*\binputmode="decimal"[^>]*>')
_VALUE = re.compile(r'(?<= value=")(-?\d+)\.(\d+)(?=")')
# One point between digits; an address or a version has more.
_NUMBER = re.compile(r"(?<![\d.])(\d+)\.(\d+)(?!\d*\.\d)")
_THOUSANDS = re.compile(r"(?<=\d),(?=\d{3}(?!\d))")
_COMMA: ContextVar[bool] = ContextVar("comma", default=False)


def activate(comma: bool) -> None:
    """From now on in this request, write a comma or not."""
    _COMMA.set(comma)


def is_comma() -> bool:
    """Whether this request's pages are written so; scripts are told, since what they write comes after the page."""
    return _COMMA.get()


def written(words: str) -> str:
    """Plain words for paper, their numbers as the house writes them."""
    return _in_words(words) if _COMMA.get() else words


def with_commas(page: str) -> str:
    """A page of HTML whose decimal points are commas, and whose thousands are set apart by a thin space."""
    return _TYPED.sub(lambda found: _VALUE.sub(r"\1,\2", found[0]), _WORDS.sub(_worded, page))


def _worded(found: re.Match) -> str:
    if found["text"] is None and found["said"] is None:
        return found[0]
    return _in_words(found[0])


def _in_words(words: str) -> str:
    return _NUMBER.sub(r"\1,\2", _THOUSANDS.sub("\N{NARROW NO-BREAK SPACE}", words))
