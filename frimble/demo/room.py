"""The made-up shop's stores, upkeep, machines and refused work."""

from datetime import timedelta

from frimble.demo import scenario
from frimble.jobs.models import Equipment, Loan, RefusedWork, Supply, SupplyRecord, UpkeepItem, UpkeepRecord
from frimble.people.models import HouseSetting

_WEEKS = 10
_USE_WAVE = (1.0, 1.3, 0.8, 1.1, 0.9, 1.2, 0.7, 1.0, 1.4, 0.9)


def lay_out_room(now, lead, technician) -> None:
    """What is used up with ten weeks of use, what comes due, what runs where, what is lent, what was not taken."""
    for key, value in scenario.PRICES:
        HouseSetting.objects.create(
            key=key, value=value, reason="From last year's bills", changed_by=lead, changed_at=now
        )
    for name, unit, at_first, a_week, supplier_days, stored_at, keep_from in scenario.SUPPLIES:
        supply = Supply.objects.create(
            name=name, unit=unit, supplier_days=supplier_days, stored_at=stored_at, keep_from=keep_from
        )
        _use(supply, at_first, a_week, now, technician)
    for name, every_days, done_days_ago, where in scenario.UPKEEP:
        item = UpkeepItem.objects.create(name=name, every_days=every_days, person=technician, where=where)
        if done_days_ago is not None:
            UpkeepRecord.objects.create(item=item, at=now - timedelta(days=done_days_ago), by=technician)
    for name, circuit, rating, together in scenario.MACHINES:
        Equipment.objects.create(name=name, circuit=circuit, rating=rating, together=together)
    Loan.objects.create(
        what="Tension gauge of the second bench", to="the sail loft", back_by=(now + timedelta(days=4)).date(),
        at=now - timedelta(days=3), by=technician,
    )  # fmt: skip
    for words, reason, size, money, days_ago in scenario.REFUSED:
        wide, high = size or (None, None)
        RefusedWork.objects.create(
            words=words, reason=reason, width_mm=wide, height_mm=high, money=money,
            at=now - timedelta(days=days_ago), by=lead,
        )  # fmt: skip


def _use(supply: Supply, at_first: float, a_week: float, now, person) -> None:
    """Bought once, then taken out week by week."""
    begun = now - timedelta(weeks=_WEEKS)
    rows = [SupplyRecord(supply=supply, kind="in", amount=at_first, at=begun, by=person)]
    for week, share in enumerate(_USE_WAVE):
        taken = round(a_week * share, 2)
        rows.append(
            SupplyRecord(supply=supply, kind="out", amount=taken, at=begun + timedelta(days=7 * week + 2), by=person)
        )
    for row in rows:
        row.save()
