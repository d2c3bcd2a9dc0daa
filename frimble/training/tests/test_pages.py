"""Training as its pages: drills begun, left, answered; skills signed and asked for; reminders; readers compared."""

from datetime import timedelta
from unittest.mock import patch

from django.utils import timezone

from frimble.core.conclusions import RuleViolation
from frimble.core.training.drill import Asks
from frimble.core.training.skills import SKILLS, drill
from frimble.people import settings as house_settings
from frimble.people.models import HouseSetting, Person
from frimble.screens.models import ScreenEvent
from frimble.screens.steps.services import degrease
from frimble.testing.case import PageCase
from frimble.testing.records import record
from frimble.testing.shop import small_shop
from frimble.training import agreement, services
from frimble.training.models import DrillRun, SkillMemory, SkillSignature


def posted(run: DrillRun, right: bool = True) -> dict:
    """The true answer of a drill as its form sends it; or one that is wrong wherever that can be."""
    fields = {}
    for question in drill(run.skill, run.level, run.seed, house_settings.current()).questions:
        values = [value for value, _ in question.choices]
        if question.asks is Asks.ORDER:
            order = list(question.right) if right else list(reversed(question.right))
            fields |= {f"{question.name}_{value}": k for k, value in enumerate(order, start=1)}
        elif question.asks is Asks.TAPS:
            fields[question.name] = " ".join(str(v if right else v + 50) for v in question.right)
        elif question.asks is Asks.NUMBER:
            fields[question.name] = question.right if right else question.right * 9 + 50
        elif question.asks is Asks.MANY:
            fields[question.name] = [v for v in values if (v in question.right) == right]
        else:
            fields[question.name] = question.right if right else next(v for v in values if v != question.right)
    return fields


class TrainingCase(PageCase):
    def setUp(self):
        self.people = small_shop()
        self.people["wim"] = Person.objects.create_user("wim", password="x", first_name="Wim", role="trainee")
        self.client.force_login(self.people["wim"])

    def begin(self, skill) -> DrillRun:
        self.client.post("/training/", {"skill": skill})
        return DrillRun.objects.filter(skill=skill).last()


class DrillPageTests(TrainingCase):
    def test_every_skill_is_drilled_answered_and_explained(self):
        for skill in SKILLS:
            with self.subTest(skill):
                run = self.begin(skill)
                self.assertContains(self.client.get(f"/training/{run.pk}/"), SKILLS[skill].title.replace("'", "&#x27;"))
                page = self.client.post(f"/training/{run.pk}/", posted(run), follow=True)
                self.assertContains(page, "All right")
                run.refresh_from_db()
                self.assertEqual(run.score, 1)
        self.assertEqual(SkillMemory.objects.filter(person=self.people["wim"]).count(), len(SKILLS))
        self.assertFalse(ScreenEvent.objects.filter(by=self.people["wim"]).exists())

    def test_a_wrong_answer_says_what_was_right_and_makes_the_next_easier(self):
        for _ in range(4):
            run = self.begin("films")
            page = self.client.post(f"/training/{run.pk}/", posted(run, right=False), follow=True)
            self.assertContains(page, "Right:")
        self.assertLess(self.begin("films").level, 3)

    def test_a_drill_left_half_way_goes_on_where_it_was(self):
        run = self.begin("gauge")
        self.assertContains(self.client.get("/training/"), "A drill was begun and left")
        self.assertEqual(self.begin("gauge"), run)
        page = self.client.post(f"/training/{run.pk}/", {"reading": "21"})
        self.assertContains(page, 'value="21"', status_code=422)
        run.refresh_from_db()
        self.assertIsNone(run.score)

    def test_what_is_no_answer_is_said_and_an_answer_stands(self):
        run = self.begin("reclaim")
        twice = dict.fromkeys(posted(run), 1)
        self.assertContains(self.client.post(f"/training/{run.pk}/", twice), "Two have one place", status_code=422)
        clock = self.begin("clock")
        page = self.client.post(f"/training/{clock.pk}/", {"taps": "soon"})
        self.assertContains(page, "These are no times", status_code=422)
        self.client.post(f"/training/{run.pk}/", posted(run))
        self.client.post(f"/training/{run.pk}/", posted(run, right=False))
        run.refresh_from_db()
        self.assertEqual(run.score, 1)

    def test_a_drill_that_settings_have_changed_since_still_tells_its_score(self):
        run = self.begin("meshes")
        self.client.post(f"/training/{run.pk}/", posted(run))
        DrillRun.objects.update(answer={"mesh": "1-1"})
        self.assertContains(
            self.client.get(f"/training/{run.pk}/"), "100 % of it was right. House settings have changed"
        )

    def test_nobody_sees_another_s_drill_and_an_unknown_skill_is_said(self):
        run = self.begin("stencils")
        self.assertEqual(self.client.get(f"/training/{run.pk}/photo.png").status_code, 200)
        self.client.force_login(self.people["tamsin"])
        self.assertEqual(self.client.get(f"/training/{run.pk}/").status_code, 404)
        self.assertContains(
            self.client.post("/training/", {"skill": "juggling"}, follow=True), "There is no skill juggling"
        )

    def test_what_is_due_comes_first(self):
        now = timezone.now()
        SkillMemory.objects.create(person=self.people["wim"], skill="coats", due_at=now - timedelta(days=2), card={})
        self.assertContains(self.client.get("/training/"), '<div class="headline">Plan a coat</div>')


class SignatureTests(TrainingCase):
    def test_a_lead_signs_and_takes_back_and_nobody_signs_their_own(self):
        self.assertEqual(self.client.get("/training/people/").status_code, 403)
        self.client.force_login(self.people["odile"])
        wim = {"person": self.people["wim"].pk, "skill": "coats"}
        self.client.post("/training/people/", wim | {"sign": ""})
        page = self.client.get("/training/people/")
        self.assertContains(page, "signed by Odile")
        self.assertNotContains(page, "Sign Plan a coat of Odile")
        self.client.post("/training/people/", wim)
        self.assertNotContains(self.client.get("/training/people/"), "signed by Odile")
        self.client.post("/training/people/", {"person": self.people["odile"].pk, "skill": "coats", "sign": ""})
        self.assertEqual(SkillSignature.objects.count(), 2)
        for nobody in ("", "abc", "9" * 30, "0"):
            self.assertEqual(self.client.post("/training/people/", wim | {"person": nobody}).status_code, 404)

    def test_a_step_asks_for_its_signed_skill_where_the_house_says_so(self):
        odile, tamsin = self.people["odile"], self.people["tamsin"]
        HouseSetting.objects.create(
            key="training.before_recording",
            value="signed",
            reason="new people",
            changed_by=odile,
            changed_at=timezone.now(),
        )
        with self.assertRaisesMessage(RuleViolation, "signed skills before this step: Plan a coat"):
            record("Q-014", "coat", tamsin, summary="Coated")
        record("Q-014", "degrease", tamsin, summary="Degreased")
        services.sign(tamsin, "coats", odile, signed=True)
        record("Q-014", "coat", tamsin, summary="Coated")
        record("Q-015", "degrease", odile, summary="Degreased")
        record("Q-015", "coat", odile, summary="Coated")


class ReminderTests(TrainingCase):
    def test_who_has_not_coated_for_months_is_reminded_once(self):
        # Source: house setting: 90 days.
        tamsin = self.people["tamsin"]
        self.client.force_login(tamsin)
        degrease("Q-014", tamsin, dwell_s=30)
        self.assertNotContains(self.client.get("/coat/Q-014/"), "A drill first")
        with patch("django.utils.timezone.now", return_value=timezone.now() - timedelta(days=120)):
            record("Q-015", "degrease", tamsin, summary="Degreased")
            record("Q-015", "coat", tamsin, summary="Coated")
        self.assertContains(self.client.get("/coat/Q-014/"), "A drill first: Plan a coat")
        run = self.begin("coats")
        self.client.post(f"/training/{run.pk}/", posted(run))
        self.assertNotContains(self.client.get("/coat/Q-014/"), "A drill first")


class AgreementPageTests(TrainingCase):
    def test_without_two_readers_it_says_so(self):
        self.client.force_login(self.people["odile"])
        self.assertEqual(agreement.pairs(), [])
        self.assertContains(self.client.get("/training/people/"), "No two have read five strips")
