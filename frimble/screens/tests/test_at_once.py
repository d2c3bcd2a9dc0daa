"""Several people at one slot in the same moment."""

import threading

from django.db import connection
from django.test import TransactionTestCase

from frimble.core.conclusions import RuleViolation
from frimble.screens.models import Screen, ScreenEvent, Slot
from frimble.screens.racks import services
from frimble.testing.shop import small_shop


class OneSlotTests(TransactionTestCase):
    def test_one_screen_gets_it_and_the_others_are_told_who_stands_there(self):
        people = small_shop()
        slot, codes = Slot.objects.get(code="A-01"), ("Q-014", "Q-015", "Q-016")
        start, answers = threading.Barrier(len(codes)), []

        def put(code):
            try:
                start.wait()
                services.place(code, slot, people["tamsin"])
                answers.append("placed")
            except RuleViolation as refusal:
                answers.append(refusal.reason)
            finally:
                connection.close()

        threads = [threading.Thread(target=put, args=(code,)) for code in codes]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        holder = Screen.objects.get(slot=slot).code
        self.assertEqual(answers.count("placed"), 1, answers)
        self.assertEqual(sum(holder in answer for answer in answers), 2, answers)
        self.assertEqual(ScreenEvent.objects.count(), 1)
