"""What a person makes of a finished check: findings judged, densities kept."""

from django.utils import timezone

from frimble.core.conclusions import OutOfRange
from frimble.films.models import DensityReading, Judgement, ScanCheck


def judge(check: ScanCheck, person, *, finding: int, accepted: bool, reason: str) -> Judgement:
    """Accept a finding, or dismiss it with a reason.

    Raises:
        OutOfRange: no such finding, or no reason.
    """
    if not check.result or not 0 <= finding < len(check.result["findings"]):
        raise OutOfRange("There is no such finding.", "finding")
    if not accepted and not reason.strip():
        raise OutOfRange("Say why it is dismissed: the next person will ask.", "reason")
    return Judgement.objects.create(
        check_of=check, finding=finding, accepted=accepted, reason=reason.strip()[:200], at=timezone.now(), by=person
    )


def keep_density(check: ScanCheck, person) -> DensityReading:
    """Take the scan's densities over into the film system's readings, under their own route and band.

    Raises:
        OutOfRange: no system, no black, or no wedge to rest on.
    """
    result = check.result or {}
    if check.positive.system is None:
        raise OutOfRange("Say first by which system the film was made.", "system")
    if not result.get("calibrated") or result.get("dmax") is None:
        raise OutOfRange("Without a wedge on the scan its densities rest on nothing that was measured.", "scan")
    return DensityReading.objects.create(
        system=check.positive.system, band="visual", route="scan", dmax=round(result["dmax"], 3),
        dmin=round(result["dmin"], 3), at_least=result["dmax_is_lower_bound"], detail=f"Scan of {check.positive}."[:240],
        at=timezone.now(), by=person,
    )  # fmt: skip
