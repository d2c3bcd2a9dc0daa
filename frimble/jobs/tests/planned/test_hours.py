"""Who is there when, and the day that is planned with it."""

from datetime import date, datetime, timedelta

from django.utils import timezone

from frimble.core.conclusions import RuleViolation
from frimble.jobs.day import queries
from frimble.jobs.day.hours.services import say_day, say_usual
from frimble.jobs.models import DayHours, UsualHours
from frimble.jobs.tests.planned.test_day import DayCase
from frimble.people import settings as house_settings
from frimble.people.models import Person

# A Friday that has not been yet, whenever this runs.
FRIDAY = timezone.localdate() + timedelta(days=7 + (4 - timezone.localdate().weekday()) % 7)


def at(day: date, hour: int, minute: int = 0) -> datetime:
    return timezone.make_aware(datetime(day.year, day.month, day.day, hour, minute))


class PlannedHoursTests(DayCase):
    def found(self, now):
        return queries.room_day(house_settings.current(), now)

    def hours(self, now):
        return sorted((s.person, s.start, s.end) for s in self.found(now).day.shifts)

    def test_lunch_a_half_day_and_a_day_away(self):
        # Source: by hand: from 07:00, noon is minute 300, 12:30 330, 16:00 540; the house's day ends at minute 600.
        say_usual(self.people["tamsin"], "Mon-Fri 7-12, 12:30-16")
        say_day(self.people["bertrand"], FRIDAY, "")
        self.assertEqual(self.hours(at(FRIDAY, 6)), [("Odile", 0, 600), ("Tamsin", 0, 300), ("Tamsin", 330, 540)])
        # At 11:59 the plan begins at 12:00: her morning is over.
        self.assertEqual(self.hours(at(FRIDAY, 11, 59)), [("Odile", 0, 300), ("Tamsin", 30, 240)])

    def test_hours_outside_the_house_s_day_are_not_planned(self):
        say_usual(self.people["tamsin"], "5-8, 16-22; Sun away")
        self.assertIn(("Tamsin", 0, 60), self.hours(at(FRIDAY, 6)))
        self.assertIn(("Tamsin", 540, 600), self.hours(at(FRIDAY, 6)))

    def test_on_friday_evening_the_day_is_monday(self):
        for person in self.people.values():
            say_usual(person, "Mon-Fri 7-17")
        found = self.found(at(FRIDAY, 18))
        self.assertEqual(found.start, at(FRIDAY + timedelta(days=3), 7))

    def test_when_all_have_gone_home_the_next_day_is_planned(self):
        for person in self.people.values():
            say_usual(person, "7-12")
        self.assertEqual(self.found(at(FRIDAY, 13)).start, at(FRIDAY + timedelta(days=1), 7))

    def test_people_with_no_hours_are_said(self):
        for person in self.people.values():
            say_usual(person, "away")
        with self.assertRaisesMessage(RuleViolation, "Nobody has hours in the next two weeks"):
            self.found(at(FRIDAY, 6))

    def test_two_of_one_name_are_two_people(self):
        Person.objects.filter(username="bertrand").update(first_name="Tamsin")
        names = {s.person for s in self.found(at(FRIDAY, 6)).day.shifts}
        self.assertEqual(names, {"Odile", "Tamsin (tamsin)", "Tamsin (bertrand)"})


class HoursPageTests(DayCase):
    def send(self, **fields):
        return self.client.post("/day/hours/", fields, follow=True)

    def test_a_usual_week_is_said_and_taken_back(self):
        tamsin = self.people["tamsin"]
        page = self.send(act="week", person=tamsin.pk, week="Mon-Fri  7-12")
        self.assertContains(page, "Tamsin is usually there Mon-Fri 7-12. Plan the day again")
        self.send(act="week", person=tamsin.pk, week="")
        self.assertFalse(UsualHours.objects.exists())

    def test_one_day_is_otherwise_until_it_is_as_usual_again(self):
        tamsin = self.people["tamsin"]
        page = self.send(act="day", person=tamsin.pk, on=FRIDAY.isoformat(), hours="away")
        self.assertContains(page, f"Tamsin is away on {FRIDAY:%A %-d %B}")
        self.send(act="day", person=tamsin.pk, on=FRIDAY.isoformat(), hours="8-12")
        self.assertEqual(DayHours.objects.get().hours, "8-12")
        self.send(act="usual", day=DayHours.objects.get().pk)
        self.assertFalse(DayHours.objects.exists())

    def test_what_cannot_be_is_told_with_all_kept(self):
        tamsin = self.people["tamsin"]
        page = self.send(act="week", person=tamsin.pk, week="7-25")
        self.assertContains(page, "no time of the day", status_code=422)
        self.assertContains(page, 'value="7-25"', status_code=422)
        page = self.send(act="day", person=tamsin.pk, on="2020-01-03", hours="7-12")
        self.assertContains(page, "That day is past.", status_code=422)
        self.assertContains(page, 'value="7-12"', status_code=422)
        gone = self.send(act="week", person="999", week="7-12")
        self.assertContains(gone, "does not work here any more", status_code=422)
        self.assertFalse(UsualHours.objects.exists() or DayHours.objects.exists())
