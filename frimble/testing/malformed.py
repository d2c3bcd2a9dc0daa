"""Malformed input for every page there is: addresses, query words, form fields and bodies that no page of ours sends."""

import json
import random
from collections.abc import Iterator
from dataclasses import dataclass, field
from html.parser import HTMLParser
from typing import Any
from urllib.parse import quote
from uuid import UUID

from django.urls import URLPattern, get_resolver
from django.urls.converters import IntConverter, UUIDConverter

_DEEP = "[" * 5000 + "]" * 5000
WORDS = (
    "", " ", "\x00", "a\x00b", "\x1b[2J", "\x7f", "\ud800", "\u202e", "’‘“", "💧" * 50, "x" * 100_000, "-1", "0", "1e400",
    "-1e400", "nan", "inf", "1e-400", str(2**63), str(2**64 + 1), str(-(2**63) - 1), "9" * 500, "1,5", "1.2.3", "٣", "²",
    "½", "1_000", "0x1F", "true", "None", "null", "../../etc/passwd", "%00", "%s%n", "'; DROP TABLE x; --", "<script>",
    "2026-02-30", "9999-12-31", "0000-00-00", "25:61", "1:90", "1 min 90 s", "10:0", "1/0", "P9999 S9999", "43-", "-80",
    "1 kg", "5 parsec", "Q-014\nQ-015", _DEEP, '{"a": 1}', "\r\n\r\n", "\ufeff", "A" * 65, "ß" * 16, "１２",
)  # fmt: skip
_BODIES = (
    (b"", "application/x-www-form-urlencoded"), (b"\xff\xfe=\xff", "application/x-www-form-urlencoded"),
    (b"a=1", "application/x-www-form-urlencoded; charset=utf-16"), (b"a=1", "application/x-www-form-urlencoded; charset=x"),
    (b"--x\r\nbroken", "multipart/form-data; boundary=x"), (b"no boundary", "multipart/form-data"),
    (b'--x\r\nContent-Disposition: form-data; name="a"\r\n\r\n\xff\r\n--x--', "multipart/form-data; boundary=x; charset=zz"),
    *((body, "application/json") for body in (b"[]", b"{", _DEEP.encode(), b"\xff", b"null", b"3", b"[1]")),
    (b"x" * 3_000_000, "text/plain"),
    (b"a=1&" * 2000, "application/x-www-form-urlencoded"), (b"%00=%00&%=%", "application/x-www-form-urlencoded"),
)  # fmt: skip
_KEYS = (
    "q",
    "next",
    "page",
    "lamp",
    "film_process",
    "rack",
    "slot",
    "kind",
    "formula",
    "mesh",
    "places",
    "x",
    "y",
    "steps",
)


@dataclass(frozen=True)
class Asked:
    """One request: how, where, and what with."""

    method: str
    path: str
    data: Any = None
    content_type: str = ""

    def __str__(self) -> str:
        return f"{self.method} {self.path[:90]} {str(self.data)[:150]!r} {self.content_type}"


class _Forms(HTMLParser):
    """The forms of a page: where each is sent, and its fields with the values they hold."""

    def __init__(self, path: str):
        super().__init__()
        self.path, self.forms = path, []

    def handle_starttag(self, tag, attrs):
        said = dict(attrs)
        if tag == "form":
            self.forms.append((said.get("method", "get").upper(), said.get("action") or self.path, {}))
        elif tag in ("input", "select", "textarea", "button") and self.forms and said.get("name"):
            self.forms[-1][2][said["name"]] = said.get("value") or ""


def forms_of(path: str, html: str) -> list[tuple[str, str, dict[str, str]]]:
    """(method, address, value by field) of each form on a page, the frame's own left out."""
    reader = _Forms(path)
    reader.feed(html)
    frame = ("/people/set/", "/people/sign-out/", "/find/")
    sent = [form for form in reader.forms if form[0] != "DIALOG" and not form[1].startswith(frame)]
    return [(m, a.split("#")[0] or path, f) for m, a, f in sent]


def addresses(rng: random.Random, patterns=None, before: str = "") -> Iterator[str]:
    """Every address of the application, with arguments that nobody has."""
    for pattern in patterns if patterns is not None else get_resolver().url_patterns:
        if isinstance(pattern, URLPattern):
            made = before + str(pattern.pattern)
            for name, converter in pattern.pattern.converters.items():
                kinds = [f"<{kind}{name}>" for kind in ("int:", "str:", "uuid:", "")]
                made = made.replace(next(k for k in kinds if k in made), _argument(converter, rng))
            yield f"/{made}"
        else:
            yield from addresses(rng, pattern.url_patterns, before + str(pattern.pattern))


def _argument(converter, rng: random.Random) -> str:
    if isinstance(converter, IntConverter):
        return rng.choice(("1", str(2**31), str(2**63), str(2**70), "9" * 300))
    if isinstance(converter, UUIDConverter):
        return str(UUID(int=rng.getrandbits(128)))
    words = [w for w in WORDS if "/" not in w and w and "\ud800" not in w and len(w) < 2000]
    return quote(rng.choice(words), safe="")


@dataclass
class Malformed:
    """Makes requests from pages that were seen whole.

    Attributes:
        pages: HTML by address. seed: of the choices.
    """

    pages: dict[str, str]
    seed: int
    rng: random.Random = field(init=False)

    def __post_init__(self):
        self.rng = random.Random(self.seed)
        self.forms = [form for path, html in self.pages.items() for form in forms_of(path, html)]

    def some(self, number: int) -> Iterator[Asked]:
        ways = (self._field, self._field, self._fields, self._query, self._query, self._address, self._body)
        for _ in range(number):
            yield self.rng.choice(ways)()

    def _word(self) -> str:
        return self.rng.choice(WORDS)

    def _field(self) -> Asked:
        """A form as the page holds it, with one field spoilt."""
        method, path, fields = self.rng.choice(self.forms)
        spoilt = dict(fields)
        if spoilt:
            spoilt[self.rng.choice(list(spoilt))] = self._word()
        return Asked(method, path, _sendable(spoilt))

    def _fields(self) -> Asked:
        method, path, fields = self.rng.choice(self.forms)
        return Asked(method, path, _sendable({name: self._word() for name in fields}))

    def _query(self) -> Asked:
        path = self.rng.choice(list(self.pages)).split("?")[0]
        return Asked("GET", path, _sendable({self.rng.choice(_KEYS): self._word() for _ in range(2)}))

    def _address(self) -> Asked:
        return Asked(self.rng.choice(("GET", "GET", "POST")), self.rng.choice(list(addresses(self.rng))), {})

    def _body(self) -> Asked:
        _, path, _ = self.rng.choice(self.forms)
        path = self.rng.choice((path, "/expose/run/1/taps/", *[a for a in self.pages if "?" not in a][:40]))
        if self.rng.random() < 0.3:
            return Asked("POST", path, json.dumps(self._json(3)).encode(), "application/json")
        body, kind = self.rng.choice(_BODIES)
        return Asked("POST", path, body, kind)

    def _json(self, depth: int):
        if depth == 0 or self.rng.random() < 0.3:
            return self.rng.choice(
                (None, True, -1, 1e308, 2**70, "x", "\x00", self._word()[:200].replace("\ud800", ""))
            )
        if self.rng.random() < 0.5:
            return [self._json(depth - 1) for _ in range(3)]
        names = ("id", "kind", "at", "taps", "value")
        return {self.rng.choice(names): self._json(depth - 1) for _ in range(3)}


def _sendable(fields: dict[str, str]) -> dict[str, str]:
    """A lone surrogate cannot be sent: in its place the bytes that no text has."""
    return {name: value.replace("\ud800", "\ufffd") for name, value in fields.items()}
