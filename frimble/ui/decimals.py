"""Numbers on a page with a decimal comma, for a house that writes them so; what is typed is understood either way."""

import re

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


def with_commas(page: str) -> str:
    """A page of HTML whose decimal points are commas, and whose thousands are set apart by a thin space."""
    return _TYPED.sub(lambda found: _VALUE.sub(r"\1,\2", found[0]), _WORDS.sub(_worded, page))


def _worded(found: re.Match) -> str:
    if found["text"] is None and found["said"] is None:
        return found[0]
    return _NUMBER.sub(r"\1,\2", _THOUSANDS.sub("\N{NARROW NO-BREAK SPACE}", found[0]))
