"""The gate before press: each skipped step and each limit is seen, and nothing else."""

import unittest
from dataclasses import replace

from frimble.core.press.gate import GateCheck, ScreenBeforePress, gate
from frimble.core.settings import HouseSettings
from frimble.core.verdicts import FilmVerdict, GateVerdict

SETTINGS = HouseSettings()
READY = ScreenBeforePress(
    photo_stencil=True, calibrated=True, film=FilmVerdict.PASSED, inspected=True, wet_min=0, kept_pinholes=0, tension=24.0,
    tension_days=5.0, slack_below=20.0, ink="water", resists=("water", "solvent"),
)  # fmt: skip

# What is skipped or over its limit. Common practice, no source.
FAULTS = {
    GateCheck.TIME: {"calibrated": False},
    GateCheck.FILM: {"film": FilmVerdict.FAULTS},
    GateCheck.INSPECTION: {"inspected": False},
    GateCheck.DRY: {"wet_min": 12.0},
    GateCheck.PINHOLES: {"kept_pinholes": 2},
    GateCheck.TENSION: {"tension": 17.0},
    GateCheck.INK: {"resists": ("solvent",)},
    GateCheck.HARDENED: {"unhardened": True},
}


class GateTests(unittest.TestCase):
    def due(self, **changed):
        return [item.check for item in gate(replace(READY, **changed), SETTINGS) if item.due]

    def test_a_screen_in_order_passes_every_check(self):
        items = gate(READY, SETTINGS)
        self.assertEqual({i.check for i in items}, set(GateCheck) - {GateCheck.PINHOLES, GateCheck.HARDENED})
        self.assertEqual({i.verdict for i in items}, {GateVerdict.OK})

    def test_each_fault_is_seen_alone(self):
        for check, changed in FAULTS.items():
            self.assertEqual(self.due(**changed), [check])

    def test_all_of_them_at_once(self):
        together = {name: value for changed in FAULTS.values() for name, value in changed.items()}
        self.assertEqual(self.due(**together), list(GateCheck))

    def test_tension_never_measured_or_old_is_due(self):
        self.assertEqual(self.due(tension=None, tension_days=None), [GateCheck.TENSION])
        limit = SETTINGS["tension.recheck_days"]
        self.assertEqual(self.due(tension_days=limit + 1), [GateCheck.TENSION])
        self.assertEqual(self.due(tension_days=limit - 1), [])

    def test_what_is_not_known_of_the_film_holds_nobody_up(self):
        for film in (None, FilmVerdict.NOT_KNOWN):
            self.assertEqual(self.due(film=film), [])

    def test_thermal_and_hand_stencils_have_no_time_and_no_film(self):
        items = gate(replace(READY, photo_stencil=False, calibrated=False, film=None), SETTINGS)
        self.assertFalse({GateCheck.TIME, GateCheck.FILM} & {i.check for i in items})
        self.assertEqual([i for i in items if i.due], [])
