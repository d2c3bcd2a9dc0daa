"""From an empty room to its first calibrated time."""

from django.shortcuts import render

from frimble.jobs.setup import presenters


def setup(request):
    """What the room has, what is missing, and where it is entered; in any order, and left whenever one likes."""
    steps = presenters.steps()
    context = {"steps": steps, "next": next((s for s in steps if not s.done and not s.can_wait), None)}
    return render(request, "jobs/setup.html", context)
