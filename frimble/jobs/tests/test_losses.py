"""What was lost by cause, month and person, and trials against it."""

from datetime import timedelta
from unittest import mock

from django.core.cache import cache
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from frimble.coatings.coats import services as coat_services
from frimble.coatings.models import Batch
from frimble.core.coating.drying import Air
from frimble.core.stencil.losses import LossStage
from frimble.films.models import Film, ScanCheck
from frimble.jobs.losses import printed, queries
from frimble.jobs.models import TrialConclusion, TrialNote
from frimble.people import settings as house_settings
from frimble.people.cached import Prepared
from frimble.people.moments import happened_at
from frimble.press.feedback import services as feedback_services
from frimble.press.services import back_from_press, send_to_press
from frimble.screens.models import Cycle, Screen
from frimble.screens.register.services import ENDINGS
from frimble.stencils.diagnosis.models import ConfirmedCause
from frimble.testing.case import PageCase
from frimble.testing.records import record
from frimble.testing.shop import small_shop

YEAR = timedelta(days=365)


class LossCase(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.tamsin, self.ines = self.people["tamsin"], self.people["ines"]
        self.client.force_login(self.tamsin)

    def coated(self, code="Q-014", days=2):
        then = timezone.now() - timedelta(days=days)
        with happened_at(then):
            record(code, "degrease", self.tamsin, summary="Degreased")
        with happened_at(then + timedelta(hours=1)):
            coat_services.coat(code, self.tamsin, formula="P1 S1", batch=Batch.objects.first(), air=Air(35, 0.4))

    def failed(self, code="Q-014"):
        self.coated(code)
        for kind in ("expose", "wash"):
            record(code, kind, self.tamsin, summary=kind)
        record(code, "inspect", self.tamsin, summary="failed", facts={"passed": False, "pinholes": 0})

    def lost(self):
        return queries.lost_since(timezone.now() - YEAR, house_settings.current())


class QueriesTests(LossCase):
    def test_a_stencil_that_failed_is_lost_with_its_emulsion(self):
        self.failed()
        (loss,) = self.lost().losses
        self.assertEqual((loss.stage, loss.cause, loss.screen), (LossStage.STENCIL, queries.NOT_FOUND_OUT, "Q-014"))
        self.assertGreater(loss.emulsion_ml, 5)
        self.assertEqual(self.lost().begun, 1)

    def test_stencils_that_broke_are_counted_over_the_time_of_those_that_came_back(self):
        codes = ("Q-014", "Q-015", "Q-016")
        for days, code in zip((1.5, 1, 0.5), codes, strict=True):
            self.coated(code, days + 0.5)
            with happened_at(timezone.now() - timedelta(days=days)):
                for kind in ("expose", "wash", "inspect"):
                    record(code, kind, self.tamsin, summary=kind)
                if code == "Q-015":
                    record(code, "harden", self.tamsin, summary="Hardened", facts={"how": "light"})
                send_to_press(code, self.ines, job=None, went_on="test")
                back_from_press(code, self.ines, impressions=int(80 * days))
                screen = Screen.objects.for_lists().get(frame__code=code)
                feedback_services.record(screen, self.ines, hold="broke" if days >= 1 else "held")
        year = timezone.now() - YEAR
        # By hand: 80 impressions a day; Q-015 alone was hardened; the two older ones broke.
        told = {(s.impressions, s.hardened, s.broke) for s in printed.printed_since(year)}
        self.assertEqual(told, {(120, False, True), (80, True, True), (40, False, False)})
        newest = Prepared(lambda start: printed._newest_back(start)[:2])
        with mock.patch.multiple(printed, MOST=2, _NEWEST_BACK=newest):
            self.assertEqual(sorted(s.broke for s in printed.printed_since(year)), [False, True])

    def test_its_confirmed_cause_names_it(self):
        self.failed()
        ConfirmedCause.objects.create(
            installation=Screen.objects.get(frame__code="Q-014").installation, cycle=Cycle.objects.latest("pk"),
            cause="under_exposed", symptoms=[], facts={}, probability=0.8, at=timezone.now(), by=self.tamsin,
        )  # fmt: skip
        self.assertEqual(self.lost().losses[0].cause, "under-exposed")

    def test_a_stencil_that_broke_on_press_is_lost_there(self):
        self.coated()
        for kind in ("expose", "wash", "inspect"):
            record("Q-014", kind, self.tamsin, summary=kind)
        send_to_press("Q-014", self.ines, job=None, went_on="test")
        self.assertEqual(self.lost().losses, [])
        feedback_services.record(Screen.objects.for_lists().get(frame__code="Q-014"), self.ines, hold="broke")
        self.assertEqual(self.lost().losses[0].stage, LossStage.PRINT)

    def test_a_coat_reclaimed_without_light_is_lost(self):
        self.coated()
        record("Q-014", "reclaim", self.tamsin, summary="Reclaimed")
        (loss,) = self.lost().losses
        self.assertEqual((loss.stage, loss.cause), (LossStage.COAT, "never exposed"))

    def test_what_stands_or_lies_before_the_time_is_not_lost(self):
        self.coated()
        self.assertEqual(self.lost().losses, [])
        later = queries.lost_since(timezone.now() - timedelta(hours=1), house_settings.current())
        self.assertEqual((later.losses, later.begun), ([], 0))

    def checked(self, name, at, passed):
        film = Film.objects.get_or_create(name=name, defaults={"made_at": at, "made_by": self.tamsin})[0]
        result = {"passed": passed, "reason": "pinholes", "findings": []}
        ScanCheck.objects.create(film=film, scan="scans/x", state="done", result=result, at=at, by=self.tamsin)

    def test_of_a_film_its_last_check_counts(self):
        then = timezone.now() - timedelta(days=3)
        self.checked("Mended", then, False)
        self.checked("Mended", then + timedelta(hours=1), True)
        self.checked("Spoilt", then, True)
        self.checked("Spoilt", then + timedelta(hours=1), False)
        (loss,) = self.lost().losses
        self.assertEqual((loss.stage, loss.cause, loss.person), (LossStage.FILM, "film failed its check", "Tamsin"))

    def test_a_mesh_that_burst_is_lost_and_one_taken_off_for_its_price_is_not(self):
        for code, ending in (("Q-014", "torn"), ("Q-015", "cost")):
            record(code, "take_off", self.tamsin, summary=ending, facts={"ending": ending})
        (loss,) = self.lost().losses
        self.assertEqual((loss.stage, loss.cause), (LossStage.MESH, ENDINGS["torn"]))
        self.assertEqual(loss.emulsion_ml, 0)


class LossPageTests(LossCase):
    def test_the_dearest_leads_with_its_share_and_what_less_would_save(self):
        self.failed()
        page = self.client.get("/losses/?by=stage&days=365")
        self.assertContains(page, "Stencil: 100 % of what was lost")
        self.assertContains(page, "Of the stencils begun 100.0 % were lost")
        self.assertContains(page, "One stencil in a hundred lost less would save")
        self.assertContains(page, "/stencil/Q-014/wrong/")

    def test_what_stencils_stand_is_told_by_light_and_hardening(self):
        for code in ("Q-014", "Q-015", "Q-016"):
            self.coated(code)
            for kind in ("expose", "wash", "inspect"):
                record(code, kind, self.tamsin, summary=kind)
            send_to_press(code, self.ines, job=None, went_on="test")
            back_from_press(code, self.ines, impressions=80)
        self.assertContains(self.client.get("/losses/"), "Not hardened: 0 of 3 broke")

    def test_an_empty_year_and_a_strange_key(self):
        self.assertContains(self.client.get("/losses/"), "Nothing lost")
        self.assertEqual(self.client.get("/losses/?by=moon&days=365").status_code, 422)

    def test_a_trial_is_begun_concluded_once_and_stays(self):
        page = self.client.post(
            "/losses/", {"changed": "Film turned: printed side up", "expected": "softer"}, follow=True
        )
        self.assertContains(page, "What came of it?")
        trial = TrialNote.objects.get()
        typed = {"result": "Lines lost 60 µm.", "conclusion": "Printed side down."}
        self.assertContains(self.client.post(f"/losses/trials/{trial.pk}/", typed, follow=True), "Printed side down.")
        again = self.client.post(f"/losses/trials/{trial.pk}/", typed)
        self.assertEqual(again.status_code, 422)
        self.assertEqual(TrialConclusion.objects.count(), 1)

    def test_a_trial_of_nothing_is_asked_again(self):
        self.assertEqual(self.client.post("/losses/", {"changed": "", "expected": "x"}).status_code, 422)
        self.assertFalse(TrialNote.objects.exists())

    def test_more_losses_ask_no_more_of_the_database(self):
        self.failed()
        # Nothing that earlier tests left is kept any more, so that nothing kept runs out between the two.
        cache.clear()
        self.lost()
        with CaptureQueriesContext(connection) as of_one:
            self.lost()
        self.failed("Q-016")
        with self.assertNumQueries(len(of_one)):
            self.lost()
