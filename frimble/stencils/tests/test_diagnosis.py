"""The page of what went wrong: symptoms against the screen's own records, answers, and the cause that was found."""

from datetime import timedelta

from django.utils import timezone

from frimble.coatings.coats import services as coat_services
from frimble.coatings.models import Batch
from frimble.core.coating.drying import Air
from frimble.core.stencil.diagnosis.codes import Cause
from frimble.core.verdicts import Inspection
from frimble.people import settings as house_settings
from frimble.people.moments import happened_at
from frimble.screens.models import Screen
from frimble.stencils.diagnosis import queries, records
from frimble.stencils.models import ConfirmedCause
from frimble.testing.case import PageCase
from frimble.testing.records import record
from frimble.testing.shop import small_shop

PAGE = "/stencil/Q-014/wrong/"


class DiagnosisTests(PageCase):
    """A coat laid in damp air and washed out an hour later, long before it could be dry."""

    def setUp(self):
        self.people = small_shop()
        self.tamsin = self.people["tamsin"]
        self.client.force_login(self.tamsin)
        self.coated = timezone.now() - timedelta(hours=2)
        with happened_at(self.coated - timedelta(hours=1)):
            record("Q-014", "degrease", self.tamsin, facts={"look": "clean"}, summary="Degreased")
        with happened_at(self.coated):
            coat_services.coat("Q-014", self.tamsin, formula="P1 S1", batch=Batch.objects.first(), air=Air(22, 0.7))

    def screen(self):
        return Screen.objects.for_lists().get(frame__code="Q-014")

    def known(self):
        return records.values(records.facts_of(self.screen(), house_settings.current(), timezone.now()))

    def confirm(self, cause, note="", symptoms="lifts_in_sheets"):
        return self.client.post(f"{PAGE}?symptoms={symptoms}", {"cause": cause, "note": note})

    def test_the_facts_are_those_on_record(self):
        known = self.known()
        self.assertEqual((known["humidity"], known["temperature_c"], known["layers"]), (0.7, 22, 1.0))
        self.assertAlmostEqual(known["dried_min"], 120, delta=1)
        self.assertTrue(known["degreased"] and known["rinsed"] and known["mesh_inspected"])
        batch = Batch.objects.first()
        self.assertEqual(known["emulsion_kind"], batch.emulsion.kind)
        self.assertAlmostEqual(known["rested_min"], (self.coated - batch.mixed_at).total_seconds() / 60, places=3)
        self.assertNotIn("time_s", known)

    def test_what_is_seen_is_weighed_against_them(self):
        # Common practice, no source: damp air and a short time leave a coat wet inside; it lifts in sheets.
        page = self.client.get(PAGE, {"symptoms": ["lifts_in_sheets", "all_washes_away"]})
        self.assertContains(page, "Coat not dry inside")
        self.assertContains(page, "Symptom: lifts in sheets.")
        self.assertContains(page, "damp air dries slowly")
        self.assertContains(page, "This was it")

    def test_nothing_is_claimed_before_something_is_seen(self):
        page = self.client.get(PAGE)
        self.assertContains(page, "Tap what you see")
        self.assertNotContains(page, 'name="cause"')
        self.assertContains(page, "On record of this stencil")

    def test_an_answer_leads_to_its_cause_and_stays_in_its_field(self):
        page = self.client.get(PAGE, {"symptoms": "fisheyes", "film_headroom": "", "stray_light_min": "x"})
        self.assertEqual(page.status_code, 200)
        self.assertContains(page, "“x” is not a number.")
        self.assertContains(page, 'value="x"')
        page = self.client.get(PAGE, {"symptoms": "scum_in_openings", "stray_light_min": "30"})
        self.assertContains(page, '<div class="headline">Fogged by stray light or heat</div>', html=False)
        self.assertContains(page, 'value="30"')

    def test_an_answer_does_not_set_aside_what_is_on_record(self):
        asked = self.client.get(PAGE, {"symptoms": "fisheyes", "degreased": "no"})
        self.assertNotContains(asked, "it was not degreased")

    def test_the_part_that_changes_comes_alone_when_it_is_asked_for(self):
        part = self.client.get(PAGE, {"symptoms": "pinholes", "part": "1"})
        self.assertNotContains(part, "<html")
        self.assertContains(part, "This was it")

    def test_a_cause_that_was_found_is_kept_with_what_was_seen_and_known(self):
        answer = self.confirm("coat_not_dry", note="The back was soft")
        self.assertRedirects(answer, PAGE)
        kept = ConfirmedCause.objects.get()
        self.assertEqual((kept.cause, kept.symptoms, kept.by), ("coat_not_dry", ["lifts_in_sheets"], self.tamsin))
        self.assertEqual(kept.facts["humidity"], 0.7)
        self.assertEqual(kept.cycle, self.screen().installation.cycles.get())
        self.assertContains(self.client.get(PAGE), "The back was soft")
        self.assertEqual(queries.confirmed_counts(), {Cause.NOT_DRY: 1})

    def test_of_one_cycle_the_newest_counts(self):
        self.confirm("coat_not_dry")
        self.confirm("under_exposed")
        self.assertEqual(queries.confirmed_counts(), {Cause.UNDER_EXPOSED: 1})

    def test_a_cause_that_the_records_exclude_wants_to_know_how_it_is_known(self):
        page = self.confirm("not_degreased", symptoms="pinholes")
        self.assertContains(page, "it was degreased. If it was so all the same, say how you know.", status_code=422)
        self.assertFalse(ConfirmedCause.objects.exists())
        self.confirm("not_degreased", symptoms="pinholes", note="The can was empty: water only")
        self.assertEqual(ConfirmedCause.objects.get().note, "The can was empty: water only")

    def test_no_cause_and_nothing_seen_are_told(self):
        self.assertContains(self.confirm("gremlins"), "Choose one of the causes", status_code=422)
        page = self.client.post(PAGE, {"cause": "dust"})
        self.assertContains(page, "Tap what is seen first", status_code=422)
        self.assertFalse(ConfirmedCause.objects.exists())

    def test_press_may_look_and_not_confirm(self):
        self.client.force_login(self.people["ines"])
        self.assertEqual(self.client.get(PAGE, {"symptoms": "pinholes"}).status_code, 200)
        self.assertEqual(self.confirm("dust", symptoms="pinholes").status_code, 403)

    def test_the_way_leads_from_the_passport_and_from_a_failed_inspection(self):
        self.assertContains(self.client.get("/screens/Q-014/"), PAGE)
        self.assertNotContains(self.client.get("/screens/Q-015/"), "/stencil/Q-015/wrong/")
        long_ago = self.coated - timedelta(days=2)
        for kind in ("degrease", "coat", "expose", "wash"):
            with happened_at(long_ago):
                record("Q-016", kind, self.tamsin, summary=kind)
        self.assertContains(self.client.get("/stencil/Q-016/inspect/"), "/stencil/Q-016/wrong/")
        sent = {
            "verdict": Inspection.FAILS,
            "pinholes": "0",
            "revision": Screen.objects.get(frame__code="Q-016").revision,
        }
        self.assertRedirects(self.client.post("/stencil/Q-016/inspect/", sent), "/stencil/Q-016/wrong/")
