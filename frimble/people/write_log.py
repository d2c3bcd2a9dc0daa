"""One line in the log for each request that wrote something: who, what, which screens. Nothing that was typed is in it."""

import logging
from contextvars import ContextVar

logger = logging.getLogger("frimble.writes")

# What the running request has written: (kind of row, screen code or None); None outside of requests.
_written: ContextVar[list[tuple[str, str | None]] | None] = ContextVar("written", default=None)


def note_row(sender, instance, **kwargs) -> None:
    """A row of ours was stored or deleted; a model names the screen it is about as `screen_code`."""
    rows = _written.get()
    if rows is not None and sender.__module__.startswith("frimble."):
        rows.append((sender.__name__, getattr(instance, "screen_code", None)))


class WriteLog:
    """Tells the log what a request wrote, once it has been answered without a refusal."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        held = _written.set([])
        try:
            response = self.get_response(request)
            rows = _written.get()
        finally:
            _written.reset(held)
        if rows and response.status_code < 400:
            logger.info(line(request, rows))
        return response


def line(request, rows) -> str:
    """`who=tamsin what=screens:step/degrease screen=Q-014 rows=Coat,ScreenEvent`; `-` stands for what is not known."""
    match = request.resolver_match
    screens = {code for _, code in rows if code}
    what = "/".join(filter(None, [match.view_name, match.kwargs.get("kind")])) if match else "-"
    kinds = sorted({kind for kind, _ in rows})
    who = request.user.get_username() if request.user.is_authenticated else ""
    return f"who={who or '-'} what={what} screen={','.join(sorted(screens)) or '-'} rows={','.join(kinds)}"
