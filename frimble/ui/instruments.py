"""The instruments of this room, as the settings choose them, and what they tell a form."""

from collections.abc import Callable, Mapping
from typing import Any, cast

from django.conf import settings
from django.http import HttpResponse, JsonResponse
from django.utils.module_loading import import_string

from frimble.core.instruments import protocols


def tension_gauge() -> protocols.TensionGauge:
    return cast(protocols.TensionGauge, _chosen("tension_gauge"))


def thickness_gauge() -> protocols.ThicknessGauge:
    return cast(protocols.ThicknessGauge, _chosen("thickness_gauge"))


def densitometer() -> protocols.Densitometer:
    return cast(protocols.Densitometer, _chosen("densitometer"))


def hygrometer() -> protocols.Hygrometer:
    return cast(protocols.Hygrometer, _chosen("hygrometer"))


def light_meter() -> protocols.LightMeter:
    return cast(protocols.LightMeter, _chosen("light_meter"))


def _chosen(kind: str) -> object:
    return import_string(settings.INSTRUMENTS[kind])()


def answer(instrument: protocols.Instrument, read: Callable[[], Mapping[str, Any]]) -> HttpResponse:
    """The readings by form field and whether they are made up; 503 when the instrument does not answer."""
    try:
        return JsonResponse({"values": dict(read()), "simulated": instrument.simulated, "name": instrument.name})
    except OSError:
        return HttpResponse(f"The {instrument.name} does not answer.", status=503, content_type="text/plain")
