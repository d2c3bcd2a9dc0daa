"""What the lead and people of the room keep: meshes, searches, racks, products; a refusal leaves nothing behind."""

from django.test import TestCase

from frimble.core.conclusions import InvalidInput
from frimble.people import services as people_services
from frimble.screens import links
from frimble.screens.meshes import services as mesh_services
from frimble.screens.models import MeshType, Rack, ReclaimProduct, SavedSearch
from frimble.screens.racks import services as rack_services
from frimble.screens.reclaim import services as reclaim_services
from frimble.screens.search import services as search_services
from frimble.testing.shop import small_shop


class RefusalCase(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.people = small_shop()
        cls.tamsin, cls.odile = cls.people["tamsin"], cls.people["odile"]

    def refused(self, field, words, action, *args, **named):
        with self.assertRaisesRegex(InvalidInput, words) as refused:
            action(*args, **named)
        self.assertEqual(refused.exception.field, field)


class MeshTests(RefusalCase):
    def add(self, notation):
        return mesh_services.add(notation, "white", None)

    def test_a_mesh_is_read_as_its_label_says(self):
        mesh = self.add("43-80")
        self.assertEqual((mesh.count_per_cm, mesh.thread_um, mesh.thread_assumed), (43, 80, False))
        self.assertEqual(self.add("120-34 yellow").colour, "yellow")

    def test_a_count_alone_is_taken_with_the_usual_thread_until_the_label_is_read(self):
        mesh = self.add("110/in")
        # Source: 1 in = 2.54 cm exactly; 110 threads an inch are 43.3 a centimetre, sold as 43-80.
        self.assertAlmostEqual(mesh.count_per_cm, 43.3, delta=0.4)
        self.assertTrue(mesh.thread_assumed)
        answer = mesh_services.measure(mesh, fabric_thickness_um=None, measured_opening_um=None, thread_um=78)
        self.assertEqual((answer.thread_um, answer.thread_assumed), (78, False))

    def test_what_is_on_the_list_means_two_things_or_nothing_is_refused(self):
        before = MeshType.objects.count()
        self.add("43-80")
        self.refused("notation", "on the list already", self.add, "43-80")
        self.refused("notation", "Write it with its unit", self.add, "30")
        with self.assertRaises(InvalidInput):
            self.add("coarse one")
        self.assertEqual(MeshType.objects.count(), before + 1)

    def test_a_cloth_that_cannot_be_is_not_kept(self):
        mesh = self.add("43-80")
        with self.assertRaises(InvalidInput):
            # Source: geometry; the pitch of 43/cm is 10 000/43 = 233 µm, and no opening is wider.
            mesh_services.measure(mesh, fabric_thickness_um=130, measured_opening_um=240)
        self.assertIsNone(MeshType.objects.get(pk=mesh.pk).fabric_thickness_um)


class SearchTests(RefusalCase):
    def test_a_name_is_kept_once_for_each_person(self):
        search_services.save(self.tamsin, "slack ones", "most=20")
        search_services.save(self.tamsin, "slack ones", "most=18")
        search_services.save(self.odile, "slack ones", "most=22")
        self.assertEqual(SavedSearch.objects.get(by=self.tamsin).query, "most=18")
        self.assertEqual(SavedSearch.objects.count(), 2)

    def test_a_search_without_a_name_is_refused_and_anothers_is_not_removed(self):
        self.refused("name", "Give the search a name", search_services.save, self.tamsin, "", "most=20")
        other = search_services.save(self.odile, "hers", "most=22")
        search_services.remove(self.tamsin, other.pk)
        self.assertTrue(SavedSearch.objects.filter(pk=other.pk).exists())
        search_services.remove(self.odile, other.pk)
        self.assertFalse(SavedSearch.objects.exists())


class RackTests(RefusalCase):
    def test_a_rack_is_renamed_and_taken_down_only_when_empty(self):
        rack = Rack.objects.get(code="A")
        rack_services.change(rack, name="By the door", dark=False, level=True, cabinet=False)
        self.assertEqual(str(Rack.objects.get(code="A").name), "By the door")
        rack_services.place("Q-014", rack.slots.first(), self.tamsin)
        self.refused("rack", "1 screen stands in", rack_services.remove, rack)
        rack_services.unplace("Q-014", self.tamsin, summary="Not where it was written down")
        rack_services.remove(rack)
        self.assertFalse(Rack.objects.filter(code="A").exists())


class ProductTests(RefusalCase):
    def test_products_are_kept_by_step_and_an_emptied_one_goes(self):
        reclaim_services.store_products([("ink remover", "Plain solvent", None), ("haze remover", "Paste", 90)])
        self.assertEqual(ReclaimProduct.objects.get(step="haze remover").dwell_s, 90)
        reclaim_services.store_products([("haze remover", "", None)])
        self.assertEqual(list(ReclaimProduct.objects.values_list("step", flat=True)), ["ink remover"])

    def test_one_dwell_that_cannot_be_keeps_none_of_them(self):
        given = [("ink remover", "Plain solvent", None), ("haze remover", "Paste", 5000)]
        self.refused("dwell_1", "between 1 and 3600", reclaim_services.store_products, given)
        self.assertFalse(ReclaimProduct.objects.exists())


class PreferenceTests(RefusalCase):
    def test_light_and_units_are_switched_and_nothing_else(self):
        people_services.set_preference(self.tamsin, "light", "safelight")
        people_services.set_preference(self.tamsin, "units", "inch")
        self.tamsin.refresh_from_db()
        self.assertEqual((self.tamsin.light, self.tamsin.units), ("safelight", "inch"))
        for name, value in (("light", "blue"), ("role", "lead"), ("is_superuser", "1")):
            self.refused(name, "Unknown", people_services.set_preference, self.tamsin, name, value)
        self.tamsin.refresh_from_db()
        self.assertEqual(self.tamsin.role, "technician")


class LinkTests(TestCase):
    def test_every_link_and_page_that_a_place_has_named_is_there(self):
        self.client.force_login(small_shop()["odile"])
        named = [link for place in ("coat", "dry", "expose", "search") for link in links.of(place)]
        self.assertGreater(len(named), 15)
        for link in named:
            with self.subTest(link.words):
                self.assertEqual(self.client.get(link.url).status_code, 200)

    def test_a_link_is_put_on_a_page_once(self):
        link = links.of("expose")[0]
        before = links.of("expose")
        links.add("expose", link)
        self.assertEqual(links.of("expose"), before)

    def test_a_step_leads_to_its_own_page_or_to_the_plain_one(self):
        self.assertEqual(links.step_url("coat", "Q-014"), "/coat/Q-014/")
        self.assertEqual(links.step_url("wash", "Q-014"), "/stencil/Q-014/wash/")
        self.assertEqual(links.step_url("degrease", "Q-014"), "/screens/Q-014/do/degrease/")
        with self.assertRaises(KeyError):
            links.page_url("paint", "Q-014")
