"""Test cases that read a page as its reader does."""

import re

from django.test import TestCase


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
