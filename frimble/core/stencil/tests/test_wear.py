"""Stencils that broke on press, by hardening and light."""

from frimble.core.stencil.wear import PrintedStencil, wear
from frimble.core.testing.case import CoreCase


class WearTests(CoreCase):
    def test_shares_are_counted_by_kind(self):
        # Source: by hand: 1 of 4 hardened and 3 of 4 others broke; all had 0.7 of their light or all of it.
        stencils = [PrintedStencil(True, 1.0, k == 0, 500) for k in range(4)]
        stencils += [PrintedStencil(False, 0.7, k < 3, 100) for k in range(4)]
        rows = {r.label: r for r in wear(stencils)}
        self.assertEqual((rows["hardened"].broke, rows["hardened"].number), (1, 4))
        self.assertEqual(rows["not hardened"].share.value, 0.75)
        self.assertEqual(rows["less light than calibrated"].usual_run, 100)
        self.assertEqual(rows["light as calibrated"].broke, 1)
        self.assertNotIn("more light than calibrated", rows)

    def test_a_handful_is_needed_and_unknown_light_counts_nowhere(self):
        self.assertEqual(wear([PrintedStencil(True, None, False, 10)] * 2), [])
        (row,) = wear([PrintedStencil(True, None, False, 10)] * 3)
        self.assertEqual((row.label, row.share.value), ("hardened", 0.0))
        self.assertGreater(row.share.high, 0.3)
