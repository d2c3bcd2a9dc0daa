"""The colours of a job: what each has, and what it still wants."""

from datetime import timedelta

from django.utils import timezone

from frimble.core.lifecycle import State
from frimble.films.models import Film, FilmProcess
from frimble.jobs.choosing import colours, queries, services
from frimble.jobs.models import Job, ScreenNeed
from frimble.jobs.tests.planned.test_choosing import ChoosingCase
from frimble.people import settings as house_settings
from frimble.press.models import PressVisit
from frimble.screens.models import Frame, MeshInstallation, Screen, ScreenEvent


class ColourRowTests(ChoosingCase):
    def row(self, state=None, **more):
        frame = Frame.objects.get(code="Q-014")
        if state:
            Screen.objects.filter(frame=frame).update(state=state)
        self.need(frame=frame if state else None, **more)
        (found,) = colours.colours_of(self.job, house_settings.current(), timezone.now())
        return found

    def film(self):
        made = {"made_at": timezone.now(), "made_by": self.people["odile"]}
        return Film.objects.create(name="Pennant", separation="gold", job_number="J-301", **made)

    def film_of(self, width, height, widest):
        """A film of so many mm, by the one printer here, which prints so wide."""
        FilmProcess.objects.update(widest_mm=widest)
        film = self.film()
        film.process, film.width_mm, film.height_mm = FilmProcess.objects.get(), width, height
        film.save()
        return film

    def test_without_a_screen_and_a_film_all_that_is_missing_is_named(self):
        found = self.row()
        self.assertIn("no screen chosen; no film yet; no calibrated time on 77-48 yellow: test first.", found.words)
        self.assertEqual((found.due, found.ready, found.act), (True, False, "Choose a screen"))

    def test_a_stencil_that_is_made_wants_nothing_more(self):
        for state, words in (
            (State.READY, "stencil ready."),
            (State.AT_PRESS, "stencil made."),
            (State.STRIPPED, "stencil made."),
        ):
            with self.subTest(state):
                ScreenNeed.objects.all().delete()
                found = self.row(state)
                self.assertEqual((found.words, found.ready, found.due), (words, True, False))

    def test_a_screen_half_way_says_how_long_it_still_takes(self):
        # Source: house settings: 5 + 7 + 25 + 3 min from the light on.
        found = self.row(State.COATED, film=self.film())
        self.assertIn("40 min of work and drying to press", found.words)
        self.assertNotIn("no film yet", found.words)

    def test_a_film_too_wide_for_its_printer_names_those_that_take_it(self):
        film = self.film_of(400, 520, widest=330)
        self.assertIn(
            "is wider than Inkjet dye prints, 330 mm: tile it, for no printer here takes it", self.row(film=film).words
        )
        for name, widest in (("Wide laser", 610), ("Imagesetter", 460), ("Narrow", 399)):
            FilmProcess.objects.create(name=name, widest_mm=widest)
        ScreenNeed.objects.all().delete()
        # Source: by hand: 400 mm across fit 460 and 610; the one that wastes least is first.
        self.assertIn("print it by Imagesetter or Wide laser, or tile it", self.row(film=film).words)

    def test_a_film_as_wide_as_its_printer_prints_is_said_nothing_of(self):
        self.assertNotIn("wider", self.row(film=self.film_of(520, 330, widest=330)).words)

    def test_one_that_cannot_go_on_says_so(self):
        self.assertIn("cannot go on: reclaim it, or choose another", self.row(State.NO_MESH).words)

    def test_one_whose_stencil_failed_says_how_long_it_is_with_the_reclaim(self):
        self.assertRegex(self.row(State.FAILED).words, r"its stencil failed: with the reclaim \d h")

    def test_a_job_is_ready_when_all_its_colours_are(self):
        self.assertEqual(colours.readiness([]), "")
        row = self.row(State.READY)
        self.assertEqual(colours.readiness([row]), "Every screen is ready.")
        other = self.need("red")
        rows = colours.colours_of(self.job, house_settings.current(), timezone.now())
        self.assertEqual(colours.readiness(rows), "1 of 2 colours are ready.")
        self.assertEqual([r.pk for r in rows][-1], other.pk)


class CandidateTests(ChoosingCase):
    def candidate(self, **changed):
        Screen.objects.filter(frame__code="Q-014").update(**changed)
        found = queries.candidates([self.need()], house_settings.current(), timezone.now())
        return {c.code: c for c in found}["Q-014"]

    def test_every_screen_of_the_mesh_is_looked_at_however_many_there_are(self):
        # Common practice, no source: a works has thousands of screens.
        person, one = self.people["odile"], Screen.objects.get(frame__code="Q-014")
        size = {"outer_width_mm": 580, "outer_height_mm": 790, "registered_at": timezone.now(), "registered_by": person}
        frames = Frame.objects.bulk_create(Frame(code=f"A-{k:03d}", **size) for k in range(450))
        mounted = {"mesh": one.mesh, "line": "photo", "number": 1, "mounted_at": timezone.now()}
        meshes = MeshInstallation.objects.bulk_create(MeshInstallation(frame=f, **mounted) for f in frames)
        Screen.objects.bulk_create(Screen(frame=m.frame, installation=m, state="bare") for m in meshes)
        self.assertEqual(self.candidate().minutes, 139)
        need = self.need()
        services.hold(need, "Q-014", person, house_settings.current())
        self.assertEqual(ScreenNeed.objects.get(pk=need.pk).frame.code, "Q-014")

    def test_what_is_bare_goes_the_whole_way(self):
        # Source: house settings: 6 + 15 + 3 + 75 + 5 + 7 + 25 + 3 min.
        self.assertEqual(self.candidate().minutes, 139)

    def test_what_still_dries_counts_its_rest_and_a_started_minute_as_one(self):
        until = timezone.now() + timedelta(minutes=12, seconds=20)
        # Source: by hand: 13 min, then 5 + 7 + 25 + 3.
        self.assertEqual(self.candidate(state=State.COATED, wet_until=until).minutes, 53)

    def test_a_step_test_or_a_printed_stencil_must_be_reclaimed_first(self):
        for changed in ({"state": State.COATED, "is_test": True}, {"state": State.PRINTED, "is_test": False}):
            with self.subTest(changed):
                found = self.candidate(**changed)
                self.assertIsNone(found.minutes)
                self.assertIn("to be reclaimed first", found.where)

    def test_the_largest_image_is_the_inside_less_its_margins(self):
        # Source: house settings: bars of 40 mm; 40 mm at the sides, 115 mm from the outer ends, on 580 × 790 mm.
        self.assertEqual(self.candidate().image_most_mm, (580 - 80 - 80, 790 - 230))

    def test_a_job_that_is_past_holds_nothing_any_more(self):
        past = Job.objects.create(number="J-1", name="Old", press_on=timezone.localdate() - timedelta(days=15))
        self.need("white", job=past, frame=Frame.objects.get(code="Q-014"))
        self.assertEqual(self.candidate().held_for, "")
        self.need("red", frame=Frame.objects.get(code="Q-014"))
        self.assertEqual(self.candidate().held_for, "J-301 red")

    def test_a_job_that_is_late_holds_its_screens_until_it_was_at_press(self):
        late = Job.objects.create(number="J-1", name="Late", press_on=timezone.localdate() - timedelta(days=1))
        self.assertFalse(late.is_late)
        self.need("white", job=late, frame=Frame.objects.get(code="Q-014"))
        self.assertEqual((self.candidate().held_for, late.is_late), ("J-1 white", True))
        own = Screen.objects.get(frame__code="Q-015").installation
        said = {"installation": own, "at": timezone.now(), "by": self.people["tamsin"]}
        event = ScreenEvent.objects.create(kind="to_press", summary="to press", **said)
        PressVisit.objects.create(event=event, job=late)
        self.assertEqual((self.candidate().held_for, late.is_late), ("", False))
        ScreenEvent.objects.create(kind="taken_back", summary="another job's", replaces=event, **said)
        self.assertEqual(self.candidate().held_for, "J-1 white")
