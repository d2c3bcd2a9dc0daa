"""A scan handed in, checked off the request, and judged."""

import dataclasses
import logging

from django.core.files.base import ContentFile
from django.db import transaction
from django.utils import timezone

from frimble.core.conclusions import InvalidInput
from frimble.films.checks import pictures as scan_pictures
from frimble.films.models import DensityReading, Film, Judgement, ScanCheck
from frimble.people import background
from frimble.people import settings as house_settings
from frimble.people.room_time import task

logger = logging.getLogger(__name__)

_TELL_EVERY = 0.05
_FAILURES = background.FailureWords(
    "The scan needs more memory than is free: scan it at fewer dpi, or try again.",
    "The check broke off: a fault of Frimble's, not of the film ({fault}). The scan is kept. Try again; if it breaks off "
    "once more, the log says where, for whoever looks after Frimble.",
    f"The check was broken off {background.MOST_TRIES} times before it came to an end.",
)


def submit(film: Film, person, *, scan, dpi, encoding, wedge, mesh) -> ScanCheck:
    """Store a scan and put its check in the queue.

    Raises:
        InvalidInput: not a picture of a kind that can be read, or a wedge that cannot be.
    """
    from frimble.core.film.scan.opening import kind_of

    kind_of(scan.read(16))
    scan.seek(0)
    return _queue(film, person, scan=scan, dpi=dpi, encoding=encoding, wedge=wedge, mesh=mesh)


def again(check: ScanCheck, person, *, wedge: str, mesh) -> ScanCheck:
    """Check the same scan anew with a wedge placed otherwise or for another mesh; the earlier check stays as it is.

    Raises:
        InvalidInput: a wedge that cannot be.
    """
    return _queue(
        check.film, person, scan=check.scan.name, dpi=check.dpi, encoding=check.encoding, wedge=wedge, mesh=mesh
    )


def _queue(film, person, *, wedge, **given) -> ScanCheck:
    from frimble.core.film.wedge.definition import wedge_or_densities

    wedge_or_densities(wedge)
    with transaction.atomic():
        check = ScanCheck.objects.create(film=film, wedge=wedge, at=timezone.now(), by=person, **given)
        transaction.on_commit(lambda: run_check.enqueue(check.pk))
    return check


def take_up_left() -> int:
    """Put checks that a killed worker or an earlier version left in the queue again; how many there were."""
    return background.take_up_left(ScanCheck, run_check, _FAILURES)


def try_again(check: ScanCheck, person) -> None:
    """Put a failed check in the queue once more.

    Raises:
        RuleViolation: it has not failed.
    """
    background.put_again(check, run_check, "Only a check that broke off is tried again.")
    logger.info("who=%s what=try_again check=%s", person.get_username(), check.pk)


@task
def run_check(pk: int) -> None:
    """Check one scan; the record says how far it has come, and in the end what was found or why not."""
    background.carry_out(ScanCheck.objects.get(pk=pk), _check, _FAILURES, logger, "opening the scan")


def _check(check: ScanCheck) -> None:
    # The image libraries load with the first check, not with the first page.
    from frimble.core.film.check import check_and_read
    from frimble.core.film.findings import limits_for
    from frimble.core.film.registration import find_marks
    from frimble.core.film.scan.opening import open_scan
    from frimble.core.film.wedge.definition import wedge_or_densities

    settings = house_settings.current()
    with check.scan.open() as file:
        scan = open_scan(file.read(), check.dpi, check.encoding, settings)
    wedge, to_find = wedge_or_densities(check.wedge)
    limits = (
        limits_for(settings, check.mesh.geometry(settings), str(check.mesh)) if check.mesh else limits_for(settings)
    )
    result, reading = check_and_read(scan, limits, wedge, to_find, _teller(check))
    check.picture.save("picture", ContentFile(scan_pictures.picture(scan)), save=False)
    check.detail.save("detail", ContentFile(scan_pictures.whole(scan)), save=False)
    if not scan.artwork:
        check.densities.save("densities", ContentFile(scan_pictures.density_map(reading)), save=False)
    plain = _plain(result, scan, limits, reading) | {"marks": _numbers(find_marks(scan).tolist())}
    if not plain["marks"] and check.film.separation:
        plain["notes"].append("No register mark was found: put them on every separation, in the same places.")
    check.keep_result(plain)


def _teller(check: ScanCheck):
    share_told = [0.0]

    def tell(share, doing):
        if share - share_told[0] >= _TELL_EVERY:
            share_told[0] = share
            check.tell(share, doing)

    return tell


def _plain(found, scan, limits, reading) -> dict:
    result = dataclasses.asdict(found)
    result["passed"] = found.passed
    result["findings"] = [dataclasses.asdict(f) | {"label": f.label, "unit": f.unit} for f in found.findings]
    width, height = scan.size_mm
    result |= {
        "width_mm": width,
        "height_mm": height,
        "dpi": scan.dpi,
        "limits": dataclasses.asdict(limits),
        "step_mm": reading.cells.step_mm,
        "ceiling": float(reading.curve.ceiling),
        "calibrated": reading.curve.wedge is not None,
        "artwork": scan.artwork,
        "wedge": _wedge(reading.curve.wedge),
    }
    return _numbers(result)


def _wedge(wedge) -> dict | None:
    """Where the wedge was taken to lie, for the page to draw and to change."""
    return None if wedge is None else dataclasses.asdict(wedge)


def _numbers(value):
    """numpy's numbers as JSON knows them, rounded to what was measured."""
    if isinstance(value, dict):
        return {k: _numbers(v) for k, v in value.items()}
    if isinstance(value, list | tuple):
        return [_numbers(v) for v in value]
    if isinstance(value, bool | str | int) or value is None:
        return value
    return value.item() if hasattr(value, "dtype") and value.dtype == bool else round(float(value), 4)


def judge(check: ScanCheck, person, *, finding: int, accepted: bool, reason: str) -> Judgement:
    """Accept a finding, or dismiss it with a reason.

    Raises:
        InvalidInput: no such finding, or no reason.
    """
    if not check.result or not 0 <= finding < len(check.result["findings"]):
        raise InvalidInput("There is no such finding.", "finding")
    if not accepted and not reason.strip():
        raise InvalidInput("Say why it is dismissed: the next person will ask.", "reason")
    return Judgement.objects.create(
        check_of=check, finding=finding, accepted=accepted, reason=reason.strip()[:200], at=timezone.now(), by=person
    )


def keep_density(check: ScanCheck, person) -> DensityReading:
    """Take the scan's densities over into the film process's readings, under their own route and band.

    Raises:
        InvalidInput: no process, no black, or no wedge to rest on.
    """
    result = check.result or {}
    if check.film.process is None:
        raise InvalidInput("Say first by which process the film was made.", "process")
    if not result.get("calibrated") or result.get("dmax") is None:
        raise InvalidInput("Without a wedge on the scan its densities rest on nothing that was measured.", "scan")
    return DensityReading.objects.create(
        process=check.film.process,
        band="visual",
        route="scan",
        dmax=round(result["dmax"], 3),
        dmin=round(result["dmin"], 3),
        at_least=result["dmax_is_lower_bound"],
        detail=f"Scan of {check.film}."[:240],
        at=timezone.now(),
        by=person,
    )
