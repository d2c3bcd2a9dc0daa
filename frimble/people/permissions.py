"""Who may do what, checked on the server."""

from functools import wraps

from django.core.exceptions import PermissionDenied


def allow(test, who: str, look: bool = True):
    """Decorate a view so that only people for whom `test(person)` holds may send to it.

    Args:
        who: in words, who they are. look: whether anybody may look.
    """

    def decorate(view):
        @wraps(view)
        def guarded(request, *args, **kwargs):
            looks = look and request.method in ("GET", "HEAD")
            if not looks and not test(request.user):
                raise PermissionDenied(
                    f"As {request.user.get_role_display()} you may look here, not record. {who} may."
                )
            return view(request, *args, **kwargs)

        guarded.allowed, guarded.who_may = test, who
        return guarded

    return decorate


# A shared tablet shows the forms; who records at it is asked when they are sent.
recorders = allow(lambda person: person.may_record or person.is_station, "Technicians and leads")
press_reporters = allow(lambda person: person.may_report_press or person.is_station, "Press, technicians and leads")
leads = allow(lambda person: person.is_lead, "Leads")
leads_only = allow(lambda person: person.is_lead, "Leads", look=False)
