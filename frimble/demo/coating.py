"""The made-up coat room: coaters, batches, the cabinet's air, and looks and readings drawn from hidden constants."""

import math
import random
from datetime import timedelta

from frimble.coatings.models import (
    AirReading,
    BatchRecord,
    Coat,
    CoatDefect,
    Coater,
    CoaterCheck,
    CoatThickness,
    DryCheck,
)
from frimble.core.coating import drying
from frimble.core.coating import thickness as coat_thickness
from frimble.core.coating.formula import parse_formula
from frimble.core.coating.wet import FILLS
from frimble.core.instruments.thickness_gauge import read_coat
from frimble.core.verdicts import Dryness
from frimble.demo import scenario
from frimble.screens.models import Rack, ScreenEvent

# Nobody looks later than this: the next step of a simulated day comes after it.
_LAST_LOOK_MIN = 88


class CoatRoom:
    """Draws the particulars of each coat as the records are written."""

    def __init__(self, now, settings, people):
        self.now, self.house_settings, self.people = now, settings, people
        self.rng = random.Random(scenario.SEED + 5)
        self.coaters = {name: Coater.objects.create(name=name, length_mm=length) for name, length in scenario.COATERS}

    def particulars(self, shop, person) -> dict:
        """Coater, fill, seconds of a stroke and air of one coat."""
        name = next(name for name, length in scenario.COATERS if length < shop.size_mm[0] - 110)
        fills = scenario.HANDS[person.username]["fills"]
        return {
            "coater": self.coaters[name],
            "fill": self.rng.choice(fills),
            "stroke_s": round(max(3.0, self.rng.gauss(8, 1.2)), 1),
            "air_c": round(self.rng.gauss(34, 1.2), 1),
            "humidity": round(min(0.6, max(0.3, self.rng.gauss(0.44, 0.04))), 2),
        }

    def looks(self, coat, mesh) -> list[tuple[DryCheck, ScreenEvent]]:
        """Damp and dry looks at a coat, for a third of those that dry soon enough."""
        facts = drying.layer_facts(
            parse_formula(coat.formula, self.house_settings),
            coat.layer,
            mesh.geometry(self.house_settings),
            coat.batch.emulsion.solids,
            coat.air,
            self.house_settings,
        )
        expected = drying.drying_minutes(facts, drying.prior(self.house_settings), self.house_settings).value
        if self.rng.random() > 0.35 or expected > 75:
            return []
        true = expected * scenario.DRIES_SLOWER * math.exp(self.rng.gauss(0, 0.08))
        minutes, looks = expected * self.rng.uniform(0.6, 0.9), []
        while minutes <= _LAST_LOOK_MIN:
            looks.append(self._look(coat, minutes, "dry" if minutes >= true else "damp"))
            if minutes >= true:
                break
            minutes += self.rng.uniform(8, 20)
        return looks

    def _look(self, coat, minutes, verdict):
        words = {"dry": "Dry", "damp": "Still damp"}[verdict]
        at = coat.event.at + timedelta(minutes=minutes)
        until = None if verdict == Dryness.DRY else coat.event.facts["wet_until"]
        event = ScreenEvent(
            installation=coat.event.installation,
            cycle=coat.event.cycle,
            kind="dry_check",
            at=at,
            by=coat.event.by,
            facts={"verdict": verdict, "wet_until": until},
            summary=f"{words} after {minutes:.0f} min",
        )
        return DryCheck(event=event, coat=coat, method="weight", verdict=verdict, elapsed_min=round(minutes, 1)), event

    def thickness(self, coat, mesh) -> tuple[CoatThickness, ScreenEvent] | None:
        """Gauge readings of one coat in four."""
        if self.rng.random() > 0.25:
            return None
        hand = scenario.HANDS[coat.event.by.username]
        fabric = mesh.geometry(self.house_settings).fabric_thickness_um
        facts = coat_thickness.CoatConditions(
            parse_formula(coat.formula, self.house_settings), fabric, coat.batch.emulsion.solids
        )
        expected = coat_thickness.predict(
            facts, coat_thickness.learn([], self.house_settings), self.house_settings
        ).value
        ln = hand["thicker"] + 0.3 * math.log(FILLS[coat.fill] / 0.5) + self.rng.gauss(0, 0.06)
        readings = read_coat(fabric + expected * 1.15 * math.exp(ln), self.rng.randrange(10**6))
        thickness = coat_thickness.measure(readings, round(fabric), self.house_settings)
        event = ScreenEvent(
            installation=coat.event.installation,
            cycle=coat.event.cycle,
            kind="thickness",
            by=coat.event.by,
            at=coat.event.at + timedelta(minutes=_LAST_LOOK_MIN + 1),
            facts={"eom_um": round(thickness.eom_um, 1)},
            summary=f"Emulsion over mesh {thickness.eom_um:.0f} µm, {thickness.share * 100:.0f} % of the mesh, "
            f"{thickness.verdict.verdict}",
        )
        return CoatThickness(
            event=event,
            coat=coat,
            bare_um=round(fabric),
            readings_um=readings,
            eom_um=thickness.eom_um,
            spread_um=thickness.spread_um,
            simulated=True,
        ), event

    def defects(self, coat) -> list[CoatDefect]:
        """Now and then a fault: what it is depends on the hand."""
        hand = scenario.HANDS[coat.event.by.username]
        if self.rng.random() > 0.06:
            return []
        return [CoatDefect(coat=coat, kind=self.rng.choice(hand["faults"]), at=coat.event.at, by=coat.event.by)]

    def lay_out(self, batches):
        """Checks of coaters, the cabinet's air of two days, and what went in and out of the batches."""
        odile, tamsin = self.people["odile"], self.people["tamsin"]
        for name, finding, days in scenario.COATER_CHECKS:
            at = self.now - timedelta(days=days)
            CoaterCheck.objects.create(coater=self.coaters[name], finding=finding, at=at, by=odile)
        cabinet = Rack.objects.get(cabinet=True)
        for hours in (44, 40, 26, 20, 5, 0.5):
            AirReading.objects.create(
                cabinet=cabinet,
                air_c=round(self.rng.gauss(34, 0.9), 1),
                fan="low",
                simulated=True,
                by=tamsin,
                humidity=round(self.rng.gauss(0.44, 0.03), 2),
                at=self.now - timedelta(hours=hours),
            )
        for code, days, poured, returned in scenario.POURED:
            at = self.now - timedelta(days=days)
            BatchRecord.objects.create(batch=batches[code], kind="poured", litres=poured, at=at, by=tamsin)
            BatchRecord.objects.create(
                batch=batches[code], kind="returned", litres=returned, at=at + timedelta(minutes=50), by=tamsin
            )


def finished(coat: Coat) -> bool:
    """Whether the simulated day went on after this coat was dry."""
    return coat.event.cycle is not None and coat.event.cycle.closed_at is not None
