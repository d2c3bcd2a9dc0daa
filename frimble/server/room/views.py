"""The room's server on one page, for the lead."""

from datetime import datetime

from django.contrib import messages
from django.shortcuts import redirect, render

from frimble.core.conclusions import InvalidInput
from frimble.people.permissions import leads
from frimble.server.backups import timer
from frimble.server.room import presenters


@leads
def room(request):
    """Backups, disk, database, worker; a backup at one tap."""
    if request.method == "POST":
        try:
            timer.make(datetime.now())
        except (InvalidInput, OSError) as error:
            messages.error(request, f"No backup was made: {getattr(error, 'strerror', None) or error}")
        else:
            messages.success(request, "A backup was made and looked through.")
        return redirect("server:room")
    context = {"facts": presenters.facts(), "backups": presenters.backups(), "possible": timer.is_possible()}
    return render(request, "server/room.html", context)
