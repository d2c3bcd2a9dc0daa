"""The coating bench of a large works for `register.py`: a coat for each coating on record, the newest measured and felt."""

from datetime import timedelta

from bench import light_room

MEASURED, FELT, FAULTY = 600, 600, 40
FORMULAS = ("P1 S1", "P2 S2", "P1 S2 / P1r")
PAGES = {
    "planner": "/coat/planner/", "to coat": "/coat/Q-0001/", "measure": "/coat/Q-0000/thickness/",
    "coating runs": "/coat/runs/", "steadiness": "/coat/steadiness/", "drying": "/coat/drying/", "batches": "/coat/batches/",
    "a batch": "/coat/batches/P-0/", "coaters": "/coat/coaters/", "coated stock": "/jobs/coated/",
}  # fmt: skip


def build(person, now) -> None:
    """Written straight into the tables of a shop whose screens, cycles, events and batches stand already."""
    from frimble.coatings.models import Batch, Coat, CoatDefect, CoatRecipe, DryCheck
    from frimble.core import lifecycle
    from frimble.screens.models import Screen, ScreenEvent

    in_use = Batch.objects.get(code="P-0")
    batches = [
        Batch.objects.create(
            code=f"PAST-{k}",
            emulsion=in_use.emulsion,
            mixed_at=now - timedelta(days=900),
            mixed_by=person,
            finished_at=now - timedelta(days=30),
        )
        for k in range(8)
    ]
    for formula in FORMULAS:
        CoatRecipe.objects.get_or_create(formula=formula, defaults={"name": formula, "use": "for the bench"})
    events = ScreenEvent.objects.filter(kind="coat", coat__isnull=True).order_by("at").only("pk")
    coats = Coat.objects.bulk_create(
        (
            Coat(
                event=e,
                batch=batches[k % len(batches)],
                formula=FORMULAS[k % 3],
                layer=1,
                fill="half",
                air_c=34,
                humidity=0.4,
                dry_min=60,
                dry_low_min=50,
                dry_high_min=75,
            )
            for k, e in enumerate(events)
        ),
        batch_size=5000,
    )
    newest = list(
        Coat.objects.filter(pk__in=[c.pk for c in coats[-MEASURED:]]).select_related(
            "event__installation", "event__cycle"
        )
    )
    _measured(newest, person)
    saved_searches = [_beside(c, "dry_check", 70, person) for c in newest[:FELT]]
    DryCheck.objects.bulk_create(
        DryCheck(event=e, coat=c, method="touch", verdict="dry" if k % 3 else "damp", elapsed_min=70)
        for k, (e, c) in enumerate(zip(ScreenEvent.objects.bulk_create(saved_searches), newest, strict=True))
    )
    CoatDefect.objects.bulk_create(CoatDefect(coat=c, kind="bead", at=now, by=person) for c in newest[:FAULTY])
    ready = light_room.ours().filter(state=lifecycle.State.BARE).order_by("pk")[:30]
    Screen.objects.filter(pk__in=list(ready.values_list("pk", flat=True))).update(state=lifecycle.State.DEGREASED)


def _measured(coats, person) -> None:
    from frimble.coatings.models import CoatThickness
    from frimble.screens.models import ScreenEvent

    events = ScreenEvent.objects.bulk_create(_beside(c, "thickness", 300, person) for c in coats)
    CoatThickness.objects.bulk_create(
        CoatThickness(
            event=e, coat=c, bare_um=130, readings_um=[150, 151, 152, 150, 149], eom_um=18 + k % 7, spread_um=2
        )
        for k, (e, c) in enumerate(zip(events, coats, strict=True))
    )


def _beside(coat, kind: str, minutes: float, person):
    from frimble.screens.models import ScreenEvent

    return ScreenEvent(
        installation=coat.event.installation,
        cycle=coat.event.cycle,
        kind=kind,
        at=coat.event.at + timedelta(minutes=minutes),
        by=person,
        summary=kind,
    )
