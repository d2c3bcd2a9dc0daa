"""The room's own time: pages and what the worker does for them tell days and hours by it, moments are kept in UTC."""

import functools
from collections.abc import Callable
from datetime import datetime
from typing import Any
from zoneinfo import ZoneInfo

import django_tasks
from django.conf import settings
from django.utils import timezone
from django_tasks.base import Task

from frimble.core.settings import REGISTER
from frimble.people import settings as house_settings


def zone() -> ZoneInfo:
    """The room's time zone: its house setting, or else the server's."""
    name = house_settings.current()["room.time_zone"]
    return ZoneInfo(name if name != REGISTER["room.time_zone"].default else settings.TIME_ZONE)


def day_words(moment: datetime) -> str:
    """The room's day of a moment: “3 December”."""
    return f"{timezone.localtime(moment):%-d %B}"


def task(work: Callable[..., Any]) -> Task:
    """A task of the worker, which no request tells where the room is."""

    @functools.wraps(work)
    def in_room_time(*args, **kwargs):
        with timezone.override(zone()):
            return work(*args, **kwargs)

    return django_tasks.task(in_room_time)
