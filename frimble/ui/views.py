"""Pages for what was not found, not allowed or broken."""

from django.shortcuts import render


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


def send_again(request, reason=""):
    """The page was too old, or came from elsewhere: what was typed waits for one more tap."""
    kept = [(name, value) for name, values in request.POST.lists() for value in values if name != "csrfmiddlewaretoken"]
    context = {"kept": kept, "path": request.get_full_path(), "files": bool(request.FILES)}
    return render(request, "ui/send_again.html", context, status=403)


def broken(request):
    """Rendered without context processors: the fault may be in one of them."""
    return render(None, "ui/broken.html", status=500)
