"""Pages for what was not found, not allowed or broken."""

from django.shortcuts import render

from frimble.ui.input import send_again


def not_found(request, exception):
    words = str(exception) if exception and "path" not in str(exception) else ""
    return render(
        request, "ui/message.html", {"title": "Not here", "words": words or "There is no such page."}, status=404
    )


def forbidden(request, exception=None):
    words = str(exception) or "You may not do that."
    return render(request, "ui/message.html", {"title": "Not yours to record", "words": words}, status=403)


def unreadable(request, exception=None):
    words = "What was sent cannot be read. Go back and send it again."
    return render(request, "ui/message.html", {"title": "Not taken", "words": words}, status=400)


def grown_old(request, reason=""):
    """The page was too old, or came from elsewhere."""
    why = (
        "The page had grown too old, or was opened before signing in. If this comes again, the browser keeps no cookies of "
        "this address: allow them."
    )
    return send_again(request, why, 403)


def broken(request):
    """Rendered without context processors: the fault may be in one of them."""
    return render(None, "ui/broken.html", status=500)
