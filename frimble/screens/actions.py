"""What people do to screens outside coating and exposure: measure, degrease, strip, reclaim, put away."""

from collections.abc import Sequence

from django.db import transaction
from django.utils import timezone

from frimble.core import lifecycle
from frimble.core.conclusions import OutOfRange, Refused, require_between
from frimble.core.storage import racks as rack_rules
from frimble.core.tension import measurement as tension_measurement
from frimble.people import standards
from frimble.screens import ledger
from frimble.screens.models import Screen, TensionMeasuring, TensionValue

RECLAIM_OUTCOMES = {
    "clean": "clean",
    "faint": "faint ghost, will not print",
    "ghost": "ghost that prints",
    "damage": "damaged mesh",
}


@transaction.atomic
def record_tension(
    code,
    readings: Sequence[tension_measurement.TensionReading],
    person,
    *,
    simulated=False,
    revision=None,
    note="",
    sure=False,
    stage="",
) -> TensionMeasuring:
    """Store a measuring with its statistics.

    Args:
        sure: the person has seen that it is far from the last one. stage: which reading after stretching it is, if any.

    Raises:
        OutOfRange: a reading is absurd, or far from the last measuring and nobody said it is sure.
        Refused: there is no mesh, or a wet coat on it.
    """
    in_force = standards.current()
    summary = tension_measurement.summarise(readings, in_force)
    screen = ledger.lock(code, revision)
    if not sure and (far := tension_measurement.far_from_last(summary.mean, screen.tension_n_per_cm, in_force)):
        raise OutOfRange(far, "sure")
    if reason := lifecycle.tension_refused(screen.life, timezone.now()):
        raise Refused(reason)
    event = ledger.record(
        code, "tension", person, revision=revision, note=note,
        summary=f"Tension {summary.mean:.1f} N/cm ({summary.lowest:.1f} to {summary.highest:.1f}), "
        f"{summary.verdict.verdict}",
        facts={"mean": round(summary.mean, 2)} | ({"stage": stage} if stage else {}),
    )  # fmt: skip
    measuring = TensionMeasuring.objects.create(
        event=event, mean=summary.mean, lowest=summary.lowest, highest=summary.highest,
        warp_mean=summary.warp_mean, weft_mean=summary.weft_mean, simulated=simulated,
    )  # fmt: skip
    TensionValue.objects.bulk_create(
        TensionValue(measuring=measuring, place=r.place, direction=r.direction, n_per_cm=r.n_per_cm) for r in readings
    )
    return measuring


PRE_COAT_LOOKS = {
    "clean": "clean", "haze": "haze left", "emulsion": "emulsion left", "damage": "damaged mesh",
}  # fmt: skip


def degrease(code, person, *, dwell_s: float, look="clean", rinsed=True, **kwargs):
    """Degreased, rinsed and looked at against the light; the mesh now dries before a fan.

    Raises:
        OutOfRange: a dwell that cannot be, or nobody says that it was rinsed.
    """
    if not rinsed:
        raise OutOfRange(
            "Rinse until no foam and then longer, and say so: left degreaser makes the coat lift.", "rinsed"
        )
    in_force = standards.current()
    require_between(dwell_s, 1, in_force["degrease.longest_s"], "The dwell, in s,", "dwell_s")
    minutes = in_force["degrease.dry_min"]
    facts = ledger.wetted({"dwell_s": dwell_s, "look": look}, minutes, timezone.now())
    seen = "" if look == "clean" else f"; {PRE_COAT_LOOKS[look]}"
    return ledger.record(
        code, "degrease", person, facts=facts, summary=f"Degreased, {dwell_s:g} s dwell{seen}", **kwargs
    )


def record_mesh_dry(code, person, **kwargs):
    """A hand felt the bare mesh dry before the clock said so."""
    return ledger.record(code, "dry_mesh", person, summary="Mesh dry to the hand", **kwargs)


def strip(code, person, **kwargs):
    """Ink taken out; the stencil stays."""
    return ledger.record(code, "strip", person, summary="Ink stripped, stencil kept", **kwargs)


def reclaim(code, person, *, rounds: int, minutes: float, outcome: str, products=None, **kwargs):
    """Stencil removed; the cycle closes. `products` are what was used by step, with name and dwell in s.

    Raises:
        OutOfRange: an unknown outcome.
    """
    if outcome not in RECLAIM_OUTCOMES:
        raise OutOfRange(f"Outcome: choose one of {', '.join(RECLAIM_OUTCOMES)}.", "outcome")
    in_force = standards.current()
    require_between(rounds, 1, in_force["reclaim.most_rounds"], "The number of rounds", "rounds")
    require_between(minutes, 0.5, in_force["reclaim.longest_min"], "The time, in min,", "minutes")
    used = ", ".join(p["name"] for p in (products or {}).values())
    times = "1 round" if rounds == 1 else f"{rounds} rounds"
    return ledger.record(
        code, "reclaim", person, coat_colour="",
        facts={"rounds": rounds, "minutes": minutes, "outcome": outcome, "products": products or {}},
        summary=f"Reclaimed in {times}, {minutes:g} min{f' with {used}' if used else ''}: {RECLAIM_OUTCOMES[outcome]}",
        **kwargs,
    )  # fmt: skip


def burn_image(code, person, **kwargs):
    """Image melted into a thermal-film mesh."""
    return ledger.record(code, "image", person, summary="Image burned into the thermal film", **kwargs)


def block_out(code, person, **kwargs):
    """Stencil drawn or cut by hand."""
    return ledger.record(code, "block_out", person, summary="Stencil drawn or cut by hand", **kwargs)


def cut_out(code, person, **kwargs):
    """Used thermal mesh cut out of its frame."""
    return ledger.record(code, "cut_out", person, summary="Mesh cut out, frame free for new mesh", **kwargs)


@transaction.atomic
def place(code, slot, person, *, revision=None, note=""):
    """Put a screen into a rack slot.

    Raises:
        Refused: the slot is taken, too small, or open to light under a live coat.
    """
    screen = ledger.lock(code, revision)
    if reason := lifecycle.place_refused(screen.life):
        raise Refused(reason)
    if reason := rack_rules.why_not(
        screen_facts(screen), slot_facts(slot, getattr(slot, "screen", None)), standards.current()
    ):
        raise Refused(reason, field="slot")
    return ledger.record(
        code, "place", person, revision=revision, note=note, facts={"slot": slot.code},
        summary=f"Put in slot {slot.code}, {slot.rack}",
    )  # fmt: skip


def unplace(code, person, *, summary: str, note=""):
    """A screen that is not where it was written down stands nowhere until it is found."""
    return ledger.record(code, "place", person, facts={"slot": ""}, summary=summary, note=note)


def screen_facts(screen: Screen) -> rack_rules.ScreenFacts:
    return rack_rules.ScreenFacts(
        screen.code, screen.frame.outer_width_mm, screen.frame.outer_height_mm,
        lifecycle.State(screen.state) in lifecycle.LIVE, screen.life.wet(timezone.now()),
    )  # fmt: skip


def slot_facts(slot, holder: Screen | None) -> rack_rules.SlotFacts:
    """The core's value of a slot, and of the screen that stands in it."""
    return rack_rules.SlotFacts(
        slot.code, slot.width_mm, slot.height_mm, slot.rack.dark, holder.code if holder else "", slot.rack.level,
        slot.rack.cabinet,
    )  # fmt: skip
