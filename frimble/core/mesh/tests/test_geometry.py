from frimble.core.mesh import geometry as mesh_geometry
from frimble.core.settings import HouseSettings
from frimble.core.testing.case import CoreCase
from frimble.core.units import per_cm, per_inch


class GeometryTests(CoreCase):
    def test_opening_and_open_area_of_a_square_weave(self):
        # Source: ISO 9044, w = p − d and A0 = (w / p)²; a 1 mm opening with 0.5 mm wire is 44.4 % open.
        self.assertAlmostEqual(mesh_geometry.open_area(1000, 500), 0.444, places=3)
        # Source: ISO 9044 by hand: 43/cm has a pitch of 232.6 µm; less an 80 µm thread leaves 152.6 µm, 43.0 % open.
        result = mesh_geometry.geometry(43, 80, self.house_settings)
        self.assertAlmostEqual(result.pitch_um, 232.558, places=3)
        self.assertAlmostEqual(result.opening_um, 152.558, places=3)
        self.assertAlmostEqual(result.open_area, 0.4303, places=4)

    def test_ink_volume_is_open_area_times_thickness_and_says_when_it_was_estimated(self):
        # Common practice, no source. Theoretical ink volume in cm³/m² is open area × fabric thickness in µm.
        measured = mesh_geometry.geometry(120, 34, self.house_settings, fabric_thickness_um=55)
        self.assertAlmostEqual(measured.ink_volume_cm3_per_m2, 0.3505 * 55, places=2)
        self.assertTrue(measured.thickness_measured)
        estimated = mesh_geometry.geometry(120, 34, self.house_settings)
        # From memory: fabric is about 1.6 thread diameters thick.
        self.assertAlmostEqual(estimated.fabric_thickness_um, 54.4)
        self.assertFalse(estimated.thickness_measured)

    def test_a_house_standard_changes_the_estimate(self):
        changed = HouseSettings({"mesh.fabric_thickness_factor": 1.8})
        self.assertAlmostEqual(mesh_geometry.geometry(43, 80, changed).fabric_thickness_um, 144)

    def test_a_thread_as_wide_as_the_pitch_is_refused(self):
        self.assertInvalidInput("thread_um", "wider than the pitch of 233", mesh_geometry.mesh_opening_um, 43, 233)

    def test_absurd_values_are_refused_each_beside_its_field(self):
        self.assertInvalidInput("count", "more than 0", mesh_geometry.geometry, 0, 80, self.house_settings)
        self.assertInvalidInput("count", "more than 0", mesh_geometry.geometry, -43, 80, self.house_settings)
        self.assertInvalidInput("count", "Was it per inch?", mesh_geometry.geometry, 305, 34, self.house_settings)
        self.assertInvalidInput("thread_um", "more than 0", mesh_geometry.geometry, 43, -1, self.house_settings)
        self.assertInvalidInput(
            "thread_um", "more than 0", mesh_geometry.geometry, 43, float("nan"), self.house_settings
        )


class NotationTests(CoreCase):
    def read(self, text):
        return mesh_geometry.parse_mesh(text, self.house_settings)

    def test_43_per_cm_is_110_per_inch(self):
        # Source: 1 in = 2.54 cm exactly; 43/cm × 2.54 = 109.2, sold as 110.
        self.assertAlmostEqual(per_inch(43), 109.22)
        self.assertAlmostEqual(per_cm(110), 43.307, places=3)
        # Common practice, no source. The trade's pair for that cloth is 110/in and 43/cm.
        self.assertIn((110, 43, 80), mesh_geometry.USUAL_MESHES)

    def test_pairs_are_read_per_cm_or_per_inch_as_the_trade_writes_them(self):
        # Common practice, no source. 43-80 and 90-48 are per cm; 156-64 and 305-34 per inch.
        for text, count, thread in (
            ("43-80", 43, 80),
            ("90-48", 90, 48),
            ("156-64", 62, 64),
            ("156/64", 62, 64),
            ("305-34", 120, 34),
            ("305/in-34", 120, 34),
            ("230/in-48", 90, 48),
            ("10-260", 10, 260),
        ):
            with self.subTest(text):
                self.assertEqual(self.read(text), mesh_geometry.MeshSpec(count, thread))

    def test_thread_colour_is_read_from_letter_or_word(self):
        for text in ("43-80 Y", "43-80Y", "43-80 yellow", "43-80 y"):
            with self.subTest(text):
                self.assertEqual(self.read(text), mesh_geometry.MeshSpec(43, 80, "yellow"))
        self.assertEqual(self.read("156-64 white"), mesh_geometry.MeshSpec(62, 64, "white"))

    def test_a_number_over_200_alone_is_per_inch(self):
        # Common practice, no source. No common mesh has more than 200 threads per cm.
        self.assertEqual(self.read("305"), mesh_geometry.MeshSpec(120, 34))
        self.assertEqual(self.read("230").count_per_cm, 90)
        self.assertIsNone(self.read("230").thread_um, "two threads are sold at 230")

    def test_a_bare_number_known_in_one_unit_is_taken_so(self):
        # Common practice, no source. 86 and 156 are per inch, 43 and 77 per cm; T follows either.
        self.assertEqual(self.read("86").count_per_cm, 34)
        self.assertEqual(self.read("156").count_per_cm, 62)
        self.assertEqual(self.read("43T").count_per_cm, 43)
        self.assertEqual(self.read("77").count_per_cm, 77)

    def test_what_could_be_either_is_asked(self):
        # Common practice, no source. 24, 34, 54 exist in both units; 110 is a cloth per inch and another per cm.
        for text in ("24", "34", "54", "110", "110T"):
            with self.subTest(text):
                result = self.read(text)
                self.assertIsInstance(result, mesh_geometry.Ambiguous)
                self.assertIn("per inch", result.question)
                self.assertEqual(len(result.choices), 2)

    def test_a_stated_unit_is_never_asked(self):
        self.assertEqual(self.read("54/cm").count_per_cm, 54)
        self.assertAlmostEqual(self.read("110/in").count_per_cm, 43.307, places=3)
        self.assertEqual(self.read("90/cm-40"), mesh_geometry.MeshSpec(90, 40))

    def test_nonsense_is_refused_with_what_is_accepted(self):
        for text in ("", "mesh", "43-", "43--80", "-43"):
            with self.subTest(text):
                self.assertInvalidInput("mesh", "such as 43-80", mesh_geometry.parse_mesh, text, self.house_settings)
        self.assertInvalidInput(
            "mesh", "wider than the pitch", mesh_geometry.parse_mesh, "120-900", self.house_settings
        )
