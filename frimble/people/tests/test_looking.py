"""No page shows a form whose sending is refused to whoever looks."""

from django.test import TestCase

from frimble.exposures.models import Lamp
from frimble.films.models import FilmProcess
from frimble.people.looking import refused_to
from frimble.people.models import Person
from frimble.testing.malformed import forms_of
from frimble.testing.shop import small_shop

_PAGES = (
    "/", "/screens/Q-014/", "/screens/Q-014/do/degrease/", "/screens/Q-014/tension/", "/screens/Q-014/marks/",
    "/screens/Q-014/place/", "/screens/rack/", "/screens/rack/define/", "/screens/register/", "/screens/mesh/",
    "/screens/mesh/add/", "/screens/labels/", "/coat/Q-014/", "/coat/batches/", "/coat/batches/SD-08/", "/coat/coaters/",
    "/coat/emulsions/", "/coat/emulsions/new/", "/coat/planner/", "/coat/runs/", "/coat/drying/", "/film/",
    "/film/processes/new/", "/film/films/new/", "/expose/lamps/", 
    "/expose/lamps/new/", "/expose/chart/", "/expose/factor-films/", "/exchange/", "/jobs/J-301/", "/people/",
    "/people/settings/", "/people/me/", "/server/",
)  # fmt: skip


class LookingTests(TestCase):
    def setUp(self):
        small_shop()
        Person.objects.create_user("wim", first_name="Wim", role="trainee")

    def test_every_form_that_is_shown_may_be_sent(self):
        shown, held_back = 0, 0
        process, lamp = FilmProcess.objects.get(), Lamp.objects.get()
        for name in ("wim", "ines", "tamsin", "odile"):
            person = Person.objects.get(username=name)
            self.client.force_login(person)
            for path in (*_PAGES, f"/film/processes/{process.pk}/", f"/expose/lamps/{lamp.pk}/"):
                answer = self.client.get(path)
                self.assertEqual(answer.status_code, 200, path)
                html = answer.content.decode()
                held_back += html.count("not-yours")
                for method, action, _ in forms_of(path, html):
                    if method == "POST":
                        shown += 1
                        self.assertEqual(refused_to(person, action.split("?")[0]), "", f"{name} at {path}: {action}")
        self.assertGreater(shown, 60)
        self.assertGreater(held_back, 50)

    def test_what_it_would_record_is_there_with_who_may(self):
        self.client.force_login(Person.objects.get(username="wim"))
        page = self.client.get("/screens/Q-014/do/degrease/").content.decode()
        self.assertIn("Technicians and leads record this; you may look.", page)
        self.assertIn("Degreaser dwell", page)
        self.assertIn("<fieldset disabled>", page)
        self.assertNotIn('name="csrfmiddlewaretoken"', page.split('class="not-yours')[-1].split("</form>")[0])

    def test_a_shared_tablet_shows_its_forms(self):
        wall = Person.objects.create_user("wall", role="station")
        self.client.force_login(wall)
        page = self.client.get("/screens/Q-014/do/degrease/").content.decode()
        self.assertNotIn("not-yours", page)
