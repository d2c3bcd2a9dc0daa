"""Test cases that read a page as its reader does."""

import re
import tempfile
from datetime import timedelta
from pathlib import Path
from unittest import mock

from django.test import TestCase, override_settings
from django.utils import timezone


class PageCase(TestCase):
    """Where a template breaks a line makes no difference: runs of white space count as one."""

    def assertContains(self, response, text, *args, **kwargs):
        super().assertContains(_in_one_line(response), text, *args, **kwargs)

    def assertNotContains(self, response, text, *args, **kwargs):
        super().assertNotContains(_in_one_line(response), text, *args, **kwargs)


def _in_one_line(response):
    if response["Content-Type"].startswith("text/html"):
        response.content = re.sub(rb"\s+", b" ", response.content)
    return response


def later(**kwargs):
    """The clock moved on by so much, as `timedelta` counts it."""
    moved = timezone.now() + timedelta(**kwargs)
    return mock.patch("django.utils.timezone.now", lambda: moved)


def own_data_folder(test) -> Path:
    """A data folder of the test's own: another process of the run must not meet its lock, codes or backups."""
    folder = tempfile.TemporaryDirectory(prefix="frimble-var-")
    test.addCleanup(folder.cleanup)
    held = override_settings(VAR_DIR=Path(folder.name))
    held.enable()
    test.addCleanup(held.disable)
    return Path(folder.name)
