"""Signing in by name and password."""

import math

from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.views import LoginView
from django.shortcuts import redirect
from django.urls import reverse
from django.utils.decorators import method_decorator

from frimble.people.door import throttle
from frimble.people.first_start import code as first_code
from frimble.people.forms import SignInForm


@method_decorator(login_not_required, name="dispatch")
class SignIn(LoginView):
    """Name and password; who tries in vain waits longer each time, and no wait is for good."""

    template_name = "people/door/sign_in.html"
    authentication_form = SignInForm
    redirect_authenticated_user = True

    def get(self, request, *args, **kwargs):
        if first_code.needed():
            return redirect("people:first-start")
        return super().get(request, *args, **kwargs)

    def post(self, request, *args, **kwargs):
        self.limits = throttle.limits_for(request, request.POST.get("username", ""))
        wait = throttle.begin(self.limits)
        if wait:
            return self._waits(wait)
        return super().post(request, *args, **kwargs)

    def _waits(self, wait: float):
        """Turned away unread; the name stays."""
        form = SignInForm(self.request, initial={"username": self.request.POST.get("username", "")[:150]})
        context = self.get_context_data(form=form, wait=throttle.in_words(wait))
        response = self.render_to_response(context, status=429)
        response["Retry-After"] = str(math.ceil(wait))
        return response

    def form_valid(self, form):
        throttle.succeeded(self.limits)
        response = super().form_valid(form)
        throttle.remember_device(self.request, response, form.get_user().get_username())
        return response

    def get_redirect_url(self):
        """Where somebody wanted to go, unless that is this page again."""
        url = super().get_redirect_url()
        return "" if url.startswith(reverse("people:sign-in")) else url
