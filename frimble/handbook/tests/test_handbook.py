"""How to: every page has its topic, every topic its pages, and the printed handbook holds the same text."""

import io
import re
from pathlib import Path

import pypdfium2
from django.conf import settings
from django.test import SimpleTestCase
from django.urls import URLPattern, get_resolver
from django.utils import timezone

from frimble.core import cautions, stations
from frimble.core.exposure.steptest.reading import StepGrade, read_grades
from frimble.core.settings import HouseSettings
from frimble.handbook import pictures, printing
from frimble.handbook.topics import all_topics, for_page, search, terms
from frimble.people import settings as house_settings
from frimble.people.models import Person
from frimble.testing.case import PageCase

# What stands at the door, answers scripts, or is the handbook itself.
_NO_TOPIC = re.compile(r"^(handbook:|jobs:(alive|changes|slate)|server:(health|worker|authority))")


def view_names(resolver=None, space=""):
    for pattern in (resolver or get_resolver()).url_patterns:
        if isinstance(pattern, URLPattern):
            if pattern.name:
                yield f"{space}{pattern.name}"
        else:
            yield from view_names(pattern, f"{pattern.namespace}:" if pattern.namespace else space)


class TopicTests(SimpleTestCase):
    def test_what_a_topic_names_is_there(self):
        names = set(view_names())
        for topic in all_topics():
            for page in topic.pages:
                with self.subTest(topic=topic.name, page=page):
                    start = page.removesuffix("*")
                    fits = [n for n in names if n == page or (start != page and n.startswith(start))]
                    self.assertTrue(fits)

    def test_every_page_has_a_topic(self):
        without = [n for n in set(view_names()) if not _NO_TOPIC.match(n) and for_page(n) is None]
        self.assertEqual(sorted(without), [])

    def test_every_station_is_told_of(self):
        titles = {topic.title for topic in all_topics()}
        for station in stations.STATIONS:
            with self.subTest(station.name):
                self.assertTrue(any(station.title.split()[0] in title for title in titles))

    def test_every_step_with_a_hazard_shows_its_caution(self):
        shown = {topic.caution.step for topic in all_topics() if topic.caution}
        for step in ("degrease", "coat", "expose", "wash", "press", "reclaim"):
            with self.subTest(step):
                self.assertIn(step, cautions.steps_with_cautions())
                self.assertIn(step, shown)

    def test_steps_are_sentences_and_none_is_too_long_to_read_standing(self):
        for topic in all_topics():
            for line in (*topic.steps, *(answer for _, answer in topic.asked)):
                with self.subTest(topic=topic.name, line=line[:30]):
                    self.assertRegex(line, r"[.?!]$")
                    self.assertLess(len(line), 240)

    def test_pictures_are_drawn_and_printed(self):
        named = {topic.picture for topic in all_topics() if topic.picture}
        self.assertEqual(named, set(pictures.names()))
        for name in named:
            with self.subTest(name):
                svg, words = pictures.drawn(name)
                self.assertTrue(svg.startswith("<svg") and words)
                self.assertIsNotNone(pictures.printed(name))

    def test_the_step_test_that_is_drawn_reads_as_the_program_reads_one(self):
        steps = [StepGrade(n, *pair) for n, pair in enumerate(zip(pictures.TIMES_S, pictures.GRADES, strict=True), 1)]
        result = read_grades(steps, "middle", 150, HouseSettings())
        good = [s.time_s for s in steps if s.grade == "good"]
        self.assertTrue(min(good) <= result.recommended.value <= max(good), result)

    def test_search_wants_all_words(self):
        self.assertEqual([topic.name for topic in search("ONE SLACK corner")], ["tension"])
        self.assertEqual(search("slack zeppelin"), [])

    def test_terms_are_in_the_glossary_of_the_trade_or_explained_alone(self):
        glossary = (Path(settings.BASE_DIR) / "docs" / "glossary.md").read_text().casefold()
        # Each concept of the glossary that pages name by a word of the trade is explained to who does not know it.
        for word in ("off-contact", "ghost image", "haze", "batch", "coat formula", "emulsion over mesh", "step test",
                     "control strip", "latitude", "squeegee side", "print side"):  # fmt: skip
            with self.subTest(word):
                self.assertIn(word, glossary)
                self.assertIn(word, terms())


class PrintedTests(SimpleTestCase):
    def text(self, paper):
        with pypdfium2.PdfDocument(io.BytesIO(printing.as_pdf(paper))) as pdf:
            pages = [page.get_textpage().get_text_range() for page in pdf]
            return " ".join(" ".join(pages).split()), pdf[0].get_size()

    def test_it_holds_every_topic_term_and_caution(self):
        text, size = self.text("a4")
        # Source: ISO 216: A4 is 210 × 297 mm, in points of 1/72 inch.
        self.assertAlmostEqual(size[0], 210 / 25.4 * 72, delta=1)
        for topic in all_topics():
            self.assertIn(topic.lead, text)
            self.assertIn(topic.steps[-1], text)
        self.assertIn(cautions.CLOSING, text)
        for word, meaning in terms().items():
            self.assertIn(f"{word}: {meaning}", text)

    def test_it_fits_the_room_s_paper(self):
        # Source: ANSI/ASME Y14.1: Letter is 8.5 × 11 inch.
        self.assertEqual(self.text("letter")[1], (612, 792))


class PagesTests(PageCase):
    def setUp(self):
        self.client.force_login(Person.objects.create_user("wim", role="trainee"))

    def test_topics_are_listed_and_searched(self):
        self.assertContains(self.client.get("/how-to/"), "The step test")
        found = self.client.get("/how-to/", {"q": "goggles"})
        self.assertNotContains(found, "The step test")
        self.assertContains(self.client.get("/how-to/", {"q": "xyzzy"}), "Nothing speaks of “xyzzy”")

    def test_a_topic_and_one_that_is_not_there(self):
        page = self.client.get("/how-to/tension/")
        self.assertContains(page, "<svg")
        self.assertEqual(self.client.get("/how-to/zeppelin/").status_code, 404)
        self.assertEqual(self.client.get("/how-to/handbook.pdf")["Content-Type"], "application/pdf")

    def test_on_paper_numbers_bear_the_house_s_decimal_sign(self):
        def printed():
            with pypdfium2.PdfDocument(self.client.get("/how-to/handbook.pdf").content) as pdf:
                return " ".join(page.get_textpage().get_text_range() for page in pdf)

        self.assertIn("1.41 finds", printed())
        house_settings.change("room.decimal", "comma", "As we write", Person.objects.get(), timezone.now())
        # Source: ISO 80000-1, 7.3.2: the decimal sign is a comma or a point on the line.
        self.assertIn("1,41 finds", printed())
        self.assertNotIn("1.41", printed())

    def test_help_on_a_page_is_that_pages_own(self):
        self.assertContains(self.client.get("/how-to/here/", {"page": "/coat/Q-014/"}), "How to: Coat")
        self.assertContains(self.client.get("/how-to/here/", {"page": "/expose/chart/"}), "How to: Expose")
        self.assertContains(self.client.get("/how-to/here/", {"page": "/no/such/page"}), "How to")
