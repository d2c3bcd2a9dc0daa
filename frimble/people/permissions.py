"""Who may do what, checked on the server."""

from functools import wraps

from django.core.exceptions import PermissionDenied


def allow(test):
    """Decorate a view so that only people for whom `test(person)` holds may send to it; anybody may look."""

    def decorate(view):
        @wraps(view)
        def guarded(request, *args, **kwargs):
            if request.method not in ("GET", "HEAD") and not test(request.user):
                raise PermissionDenied(f"As {request.user.get_role_display()} you may look here, not record.")
            return view(request, *args, **kwargs)

        return guarded

    return decorate


recorders = allow(lambda person: person.may_record)
press_reporters = allow(lambda person: person.may_report_press)
leads = allow(lambda person: person.is_lead)
