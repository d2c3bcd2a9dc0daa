"""How a device comes to trust this server: the room's own authority, to be followed once on each."""

from django.conf import settings
from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_safe

from frimble.server.https.authority import AUTHORITY, fingerprint
from frimble.ui.labels import qr_picture


def _folder():
    folder = settings.VAR_DIR / "https"
    if not (folder / AUTHORITY).is_file():
        raise Http404("This server speaks no https of its own.")
    return folder


@login_not_required
@require_safe
def trust(request):
    """What to do on a phone, tablet or computer, with a QR code and the fingerprint to compare."""
    address = request.build_absolute_uri(reverse("server:authority"))
    context = {"address": address, "picture": qr_picture(address), "fingerprint": fingerprint(_folder())}
    return render(request, "server/trust.html", context)


@login_not_required
@require_safe
def authority(request):
    """The authority's certificate, which holds no secret."""
    # Source: RFC 2585, 4.2: the media type of a certificate.
    answer = HttpResponse((_folder() / AUTHORITY).read_bytes(), content_type="application/x-x509-ca-cert")
    answer["Content-Disposition"] = 'attachment; filename="frimble-authority.crt"'
    return answer
