"""Every page is found from its station, no link of a page leads nowhere, and no tag says a thing twice."""

import re
from collections import Counter
from html import unescape
from html.parser import HTMLParser

from django.test import TestCase
from django.urls import Resolver404, resolve, reverse
from django.utils import timezone

from frimble.demo import loader
from frimble.people.models import Person

# A station's page, and what is done there beside its first work.
_FROM = {
    "/screens/at/coat/": "coatings:planner coatings:runs coatings:coaters coatings:batches coatings:emulsions "
    "coatings:steadiness jobs:coated screens:register",
    "/screens/at/expose/": "exposures:chart exposures:tests exposures:target-film exposures:factor-films exposures:lamps "
    "exposures:log",
    "/screens/at/reclaim/": "screens:products",
    "/screens/mesh/": "screens:choose-mesh screens:add-mesh screens:lives",
    "/screens/rack/": "screens:define-rack screens:labels",
    "/film/": "films:processes films:placement films:add-film",
    "/screens/": "screens:register exchange:exchange screens:labels screens:lives",
    "/people/settings/": "exchange:exchange jobs:setup people:schools",
    "/how-to/": "handbook:printed",
}
# So many pages of one kind are opened: they are alike.
_OF_A_KIND = 6
_LINK = re.compile(r'<a\b[^>]*?href="([^"]+)"')


class Tags(HTMLParser):
    """The tags that have an attribute twice: a browser drops the second without a word.

    Source: HTML, Attributes: no two of a start tag have the same name.
    """

    def __init__(self, page: str):
        super().__init__()
        self.doubled: list[str] = []
        self.feed(page)

    def handle_starttag(self, tag, attrs):
        if len({name for name, _ in attrs}) < len(attrs):
            self.doubled.append(self.get_starttag_text())


class ReachTests(TestCase):
    @classmethod
    def setUpTestData(cls):
        loader.load(timezone.now())

    def setUp(self):
        self.client.force_login(Person.objects.get(username="odile"))

    def test_each_page_is_one_tap_from_its_station(self):
        for station, names in _FROM.items():
            main = self.client.get(station).content.decode().split("<main")[1]
            for name in names.split():
                with self.subTest(station=station, page=name):
                    self.assertIn(f'href="{reverse(name)}', main)

    def test_no_link_leads_nowhere_and_no_tag_says_a_thing_twice(self):
        seen, waiting, opened = {"/"}, ["/"], Counter()
        while waiting:
            address = waiting.pop()
            try:
                name = resolve(address.split("?")[0]).view_name
            except Resolver404:
                self.fail(f"{address} is no page.")
            if opened[name] >= _OF_A_KIND:
                continue
            opened[name] += 1
            answer = self.client.get(address)
            self.assertIn(answer.status_code, (200, 302), address)
            if answer["Content-Type"].startswith("text/html"):
                self.assertEqual(Tags(answer.content.decode()).doubled, [], address)
            fresh = self.links(address, answer) - seen
            seen |= fresh
            waiting += sorted(fresh)
        self.assertGreater(sum(opened.values()), 150)

    @staticmethod
    def links(address, answer):
        """Where a page leads within the application."""
        if answer.status_code == 302:
            return {answer.url.split("#")[0]}
        if not answer["Content-Type"].startswith("text/html"):
            return set()
        found = (unescape(link).split("#")[0] for link in _LINK.findall(answer.content.decode()))
        whole = {f"{address.split('?')[0]}{link}" if link.startswith("?") else link for link in found}
        return {link for link in whole if link.startswith("/") and not link.startswith("/static/")}
