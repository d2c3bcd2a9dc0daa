"""An address is the one that Django finds, put together once."""

from django.template import Context, Template
from django.test import SimpleTestCase
from django.urls import NoReverseMatch, reverse

from frimble.ui.addresses import address


def drawn(template: str, **values) -> str:
    return Template(template).render(Context(values))


class AddressTests(SimpleTestCase):
    def test_it_is_the_one_that_django_finds(self):
        # Source: Django's reverse().
        for name, args, kwargs in (
            ("jobs:today", (), {}),
            ("screens:passport", ("Q-014",), {}),
            ("screens:station", (), {"name": "coat"}),
        ):
            for _ in range(2):
                self.assertEqual(address(name, *args, **kwargs), reverse(name, args=args, kwargs=kwargs))

    def test_templates_get_it_by_position_by_name_and_as_a_variable(self):
        # Source: Django's reverse().
        station = reverse("screens:station", args=["coat"])
        self.assertEqual(drawn("{% url 'screens:station' which %}", which="coat"), station)
        self.assertEqual(drawn("{% url 'screens:station' name=which %}", which="coat"), station)
        self.assertEqual(drawn("{% url 'screens:station' 'coat' as here %}<{{ here }}>"), f"<{station}>")

    def test_a_page_that_is_none_is_an_error_but_as_a_variable_it_is_nothing(self):
        with self.assertRaises(NoReverseMatch):
            drawn("{% url 'screens:no-such-page' %}")
        self.assertEqual(drawn("{% url 'screens:no-such-page' as here %}<{{ here }}>"), "<>")
