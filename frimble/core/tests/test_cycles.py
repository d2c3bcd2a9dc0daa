from frimble.core.cycles import summary_of
from frimble.core.lifecycle import Event
from frimble.core.stencil.losses import LossStage
from frimble.core.testing.case import CoreCase
from frimble.core.tests.test_lifecycle import LOOP, coat, minutes


def looked(at, passed):
    return Event("inspect", minutes(at), {"passed": passed})


class CycleSummaryTests(CoreCase):
    def test_a_cycle_that_printed_lost_nothing(self):
        summary = summary_of(LOOP, minutes(450))
        self.assertEqual((summary.coated_at, summary.lost, summary.lost_at), (minutes(15), None, None))
        self.assertEqual(summary.last_min["to_press"] - summary.last_min["degrease"], 200)

    def test_the_last_record_of_a_kind_counts_in_whatever_order_they_came(self):
        events = [coat(40, layer=2, layers=2), coat(15, layers=2), looked(300, True), looked(200, False)]
        summary = summary_of(events, None)
        self.assertEqual((summary.coated_at, summary.lost), (minutes(40), None))

    def test_where_a_stencil_was_lost(self):
        # Source: the words of the job: a stencil that failed its inspection, a coat that never saw light.
        bare = Event("reclaim", minutes(500))
        for events, closed_at, expected in (
            ([*LOOP[:4], looked(130, False)], None, (LossStage.STENCIL, minutes(130))),
            ([*LOOP[:4], looked(130, False), bare], minutes(500), (LossStage.STENCIL, minutes(130))),
            ([*LOOP[:2], bare], minutes(500), (LossStage.COAT, minutes(500))),
            (LOOP[:2], None, (None, None)),
            ([LOOP[0], bare], minutes(500), (None, None)),
            ([], minutes(500), (None, None)),
        ):
            with self.subTest(events=[e.kind for e in events], closed=closed_at):
                summary = summary_of(events, closed_at)
                self.assertEqual((summary.lost, summary.lost_at), expected)
