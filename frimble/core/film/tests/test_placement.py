"""Placing films: margins of the trade, tiling by hand-worked numbers, and the printed files' true scale."""

from frimble.core.conclusions import InvalidInput
from frimble.core.film.placement import SHEETS, Art, Bench, plan_films
from frimble.core.testing.case import CoreCase


class PlacementTests(CoreCase):
    def plan(self, *arts, **bench):
        given = Bench(**({"frame_width_mm": 580, "frame_height_mm": 790} | bench))
        return plan_films(given, arts, self.house_settings)

    def test_an_ordinary_image_lies_in_the_middle_and_fits(self):
        plan = self.plan(Art("Pennant", 250, 180), coater_mm=400, squeegee_mm=300, film_mm=330)
        image = plan.of("image")[0]
        self.assertEqual((image.x_mm + 125, image.y_mm + 90), (290, 395))
        self.assertEqual(plan.warnings, ())
        self.assertEqual(plan.of("tile"), [])

    def test_room_for_ink_is_kept(self):
        # Common practice, no source. 100–125 mm from the frame's far end; 790 − 2 × 115 = 560 mm is left.
        self.assertEqual(self.plan(Art("Tall", 200, 560)).warnings, ())
        answer = self.plan(Art("Tall", 200, 580)).warnings
        self.assertEqual(len(answer), 1)
        self.assertIn("10 mm into the room for ink", answer[0])

    def test_tools_that_do_not_serve_are_named(self):
        plan = self.plan(Art("Pennant", 300, 180), coater_mm=520, squeegee_mm=310)
        self.assertIn("squeegee of 310 mm is too narrow: 330 mm", " ".join(plan.warnings))
        self.assertIn("does not go between the frame's sides, 500 mm apart", " ".join(plan.warnings))
        small = self.plan(Art("Pennant", 300, 180), coater_mm=250)
        self.assertIn("no wider than the image", small.warnings[0])

    def test_wide_art_is_turned_before_it_is_tiled(self):
        # Common practice, no source. A sheet of 13 in, 330 mm.
        turned = self.plan(Art("Banner", 400, 300), film_mm=330)
        self.assertIn("turned sideways", turned.warnings[0])
        self.assertEqual(turned.of("tile"), [])
        plan = self.plan(Art("Banner", 400, 400), film_mm=330)
        tiles = plan.of("tile")
        # Source: arithmetic; two films of w with 15 mm between them cover 400: 2w − 15 = 400.
        self.assertEqual([round(t.width_mm, 1) for t in tiles], [207.5, 207.5])
        self.assertAlmostEqual(tiles[0].x_mm + tiles[0].width_mm - tiles[1].x_mm, 15)
        self.assertAlmostEqual(tiles[1].x_mm + tiles[1].width_mm - tiles[0].x_mm, 400)

    def test_a_sheet_has_a_length_too(self):
        # Source: ISO 216, A4 is 210 × 297 mm. 300 × 200 mm goes sideways on A3 and on no A4.
        a3, a4 = SHEETS["A3"], SHEETS["A4"]
        self.assertIn("turned", self.plan(Art("Wide", 400, 250), film_mm=a3[0], film_length_mm=a3[1]).warnings[0])
        tiled = self.plan(Art("Wide", 300, 205), film_mm=a4[0], film_length_mm=a4[1])
        # Source: arithmetic; two sheets upright cover 2 × 210 − 15 = 405 mm, one sheet is 297 mm high.
        self.assertEqual(len(tiled.of("tile")), 2)
        systems = (("Roll of 610", 610.0), ("Roll of 432", 432.0))
        named = self.plan(Art("Wide", 300, 300), film_mm=a4[0], film_length_mm=a4[1], systems=systems)
        self.assertIn("it fits Roll of 432, 432 mm wide, in one piece", named.warnings[0])

    def test_an_image_lies_where_it_was_put_and_turned(self):
        put = self.plan(Art("Pennant", 250, 180, centre_mm=(40, -60), turned=True)).of("image")[0]
        # Source: arithmetic; the middle of 580 × 790 is 290, 395, and turned it is 180 wide and 250 high.
        self.assertEqual((put.x_mm, put.y_mm, put.width_mm, put.height_mm), (240, 210, 180, 250))
        self.assertEqual(put.centre_from((290, 395)), (40, -60))
        answer = self.plan(Art("A", 100, 100, centre_mm=(0, 0)), Art("B", 100, 100, centre_mm=(99, 0))).warnings
        self.assertEqual(answer, ("A and B lie on each other: move one.",))
        answer = self.plan(Art("A", 100, 100, centre_mm=(260, 0))).warnings
        self.assertIn("lies on the frame's side", answer[0])

    def test_several_images_share_a_screen_and_the_unused_are_taped(self):
        plan = self.plan(Art("Pennant", 250, 180), Art("Star", 90, 90, used=False))
        first, second = plan.of("image")
        self.assertAlmostEqual(second.y_mm - first.y_mm - first.height_mm, 30)
        self.assertEqual([b.name for b in plan.of("tape")], ["Star"])
        self.assertIn("Tape out Star", plan.tape[0])

    def test_images_that_want_different_exposures(self):
        together = self.plan(Art("Pennant", 250, 180, time_s=95), Art("Star", 90, 90, time_s=100))
        self.assertEqual(together.warnings, ())
        apart = self.plan(Art("Pennant", 250, 180, time_s=95), Art("Star", 90, 90, time_s=140))
        self.assertIn("Pennant wants 95 s and Star 140 s", apart.warnings[0])

    def test_what_press_and_platen_allow_is_said_before_the_film_is_made(self):
        # Source: arithmetic; 400 mm of image and 40 mm of stroke beyond it at each end want 480 mm.
        self.assertEqual(self.plan(Art("Tea towel", 300, 400), travel_mm=480).warnings, ())
        answer = self.plan(Art("Tea towel", 300, 400), travel_mm=479).warnings
        self.assertIn("wants a stroke of 480 mm; the press has 479 mm", answer[0])
        plan = self.plan(Art("Tea towel", 300, 400), platen_width_mm=280, platen_height_mm=500)
        self.assertEqual(len(plan.warnings), 1)
        self.assertIn("300 mm wide, the platen 280 mm", plan.warnings[0])
        platen, image = plan.of("platen")[0], plan.of("image")[0]
        self.assertEqual(platen.x_mm + platen.width_mm / 2, image.x_mm + image.width_mm / 2)

    def test_tools_are_drawn_as_long_as_they_are(self):
        plan = self.plan(Art("Pennant", 250, 180), squeegee_mm=300, coater_mm=400)
        for what, length in (("squeegee", 300), ("coater", 400)):
            (tool,) = plan.of(what)
            self.assertEqual((tool.width_mm, tool.x_mm + length / 2), (length, 290))
        squeegee, coater, image = plan.of("squeegee")[0], plan.of("coater")[0], plan.of("image")[0]
        self.assertLess(squeegee.y_mm + squeegee.height_mm, image.y_mm)
        self.assertGreater(coater.y_mm, image.y_mm + image.height_mm)

    def test_mirroring_is_for_transfers_only(self):
        self.assertIn("reads right from the squeegee side", " ".join(self.plan(Art("A", 100, 100)).orientation))
        answer = self.plan(Art("A", 100, 100), transfer=True).orientation
        self.assertIn("mirrored from the squeegee side", " ".join(answer))

    def test_marks_stand_about_all_images(self):
        marks = self.plan(Art("Pennant", 250, 180)).marks
        self.assertEqual(len(marks), 8)
        self.assertIn((155, 295), marks)
        self.assertIn((290, 295), marks)

    def test_absurd_sizes_are_refused(self):
        for arts, bench in (((), {}), ((Art("A", 0, 10),), {}), ((Art("A", 10, 10),), {"frame_width_mm": 5})):
            with self.assertRaises(InvalidInput):
                self.plan(*arts, **bench)
        with self.assertRaises(InvalidInput):
            self.plan(Art("A", 400, 400), film_mm=20)
