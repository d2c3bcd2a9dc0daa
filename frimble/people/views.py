"""Switching light and units from any page."""

from django.http import HttpResponseBadRequest
from django.shortcuts import redirect
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_POST

from frimble.core.conclusions import InvalidInput
from frimble.people import services


@require_POST
def set_preference(request, name):
    """Switch light or units and go back to the same page."""
    try:
        services.set_preference(request.user, name, request.POST.get("value", ""))
    except InvalidInput as error:
        return HttpResponseBadRequest(str(error))
    back = request.POST.get("next", "/")
    if not url_has_allowed_host_and_scheme(back, allowed_hosts={request.get_host()}):
        back = "/"
    return redirect(back)
