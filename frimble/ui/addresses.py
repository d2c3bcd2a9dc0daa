"""Addresses of pages by their names, each put together once: a list asks for dozens of them at every look."""

from functools import lru_cache
from typing import Any

from django.urls import get_script_prefix, get_urlconf, reverse


def address(name: str, /, *args: Any, **kwargs: Any) -> str:
    """The address of a named page.

    Args:
        args, kwargs: plain values: a record is named by its code or number, since it is kept by what it equals.

    Raises:
        NoReverseMatch: if no page bears this name and takes these arguments.
    """
    return _put_together(get_script_prefix(), get_urlconf(), name, args, tuple(kwargs.items()))


@lru_cache(maxsize=8192, typed=True)
def _put_together(_prefix: str, _urlconf: str | None, name: str, args: tuple, kwargs: tuple) -> str:
    return str(reverse(name, args=args, kwargs=dict(kwargs)))
