"""A scan handed in, checked off the request, and judged."""

import dataclasses
import logging

from django.core.files.base import ContentFile
from django.db import models, transaction
from django.utils import timezone
from django_tasks import task

from frimble.core.conclusions import InvalidInput, RuleViolation
from frimble.films.checks import pictures as scan_pictures
from frimble.films.models import DensityReading, Film, Judgement, ScanCheck
from frimble.people import settings as house_settings

logger = logging.getLogger(__name__)

MOST_TRIES = 3
_TELL_EVERY = 0.05


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
    """Put checks that a killed worker or an earlier version left in the queue again; how many there were.

    One that took its worker with it three times ends as failed. To be called before a worker starts, when nothing
    else can be checking them.
    """
    running = ScanCheck.objects.filter(state=ScanCheck.State.RUNNING)
    for pk in running.filter(tries__gte=MOST_TRIES).values_list("pk", flat=True):
        _end(pk, ScanCheck.State.FAILED, f"The check was broken off {MOST_TRIES} times before it came to an end.")
    running.update(state=ScanCheck.State.WAITING, share_done=0, doing="")
    numbers = list(ScanCheck.objects.filter(state=ScanCheck.State.WAITING).values_list("pk", flat=True))
    for pk in numbers:
        run_check.enqueue(pk)
    return len(numbers)


def try_again(check: ScanCheck, person) -> None:
    """Put a failed check in the queue once more.

    Raises:
        RuleViolation: it has not failed.
    """
    with transaction.atomic():
        failed = ScanCheck.objects.filter(pk=check.pk, state=ScanCheck.State.FAILED)
        if not failed.update(state=ScanCheck.State.WAITING, tries=0, share_done=0, doing="", refusal=""):
            raise RuleViolation("Only a check that broke off is tried again.")
        transaction.on_commit(lambda: run_check.enqueue(check.pk))
    logger.info("who=%s what=try_again check=%s", person.get_username(), check.pk)


@task
def run_check(pk: int) -> None:
    """Check one scan; the record says how far it has come, and in the end what was found or why not."""
    check = ScanCheck.objects.get(pk=pk)
    if check.state in ScanCheck.ENDS:
        return
    ScanCheck.objects.filter(pk=pk).update(
        state=ScanCheck.State.RUNNING, doing="opening the scan", tries=models.F("tries") + 1
    )
    check.tries += 1
    try:
        _check(check)
    except InvalidInput as error:
        _end(pk, ScanCheck.State.REFUSED, str(error))
    except MemoryError:
        logger.exception("check=%s try=%s failed", pk, check.tries)
        _end(pk, ScanCheck.State.FAILED, "The scan needs more memory than is free: scan it at fewer dpi, or try again.")
    except Exception as error:  # whatever breaks a check is told on its page, never left running
        logger.exception("check=%s try=%s failed", pk, check.tries)
        reason = (
            f"The check broke off: a fault of Frimble's, not of the film ({type(error).__name__}). The scan is kept. Try "
            "again; if it breaks off once more, the log says where, for whoever looks after Frimble."
        )
        _end(pk, ScanCheck.State.FAILED, reason)


def _end(pk: int, state: str, why: str) -> None:
    ScanCheck.objects.filter(pk=pk).update(state=state, refusal=why[:400], doing="")


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
    result, reading = check_and_read(scan, limits, wedge, to_find, _teller(check.pk))
    check.picture.save("picture", ContentFile(scan_pictures.picture(scan)), save=False)
    check.detail.save("detail", ContentFile(scan_pictures.whole(scan)), save=False)
    if not scan.artwork:
        check.densities.save("densities", ContentFile(scan_pictures.density_map(reading)), save=False)
    check.result = _plain(result, scan, limits, reading) | {"marks": _numbers(find_marks(scan).tolist())}
    if not check.result["marks"] and check.film.separation:
        check.result["notes"].append("No register mark was found: put them on every separation, in the same places.")
    check.state, check.share_done, check.doing = ScanCheck.State.DONE, 1, ""
    check.save()


def _teller(pk):
    share_told = [0.0]

    def tell(share, doing):
        if share - share_told[0] >= _TELL_EVERY:
            share_told[0] = share
            ScanCheck.objects.filter(pk=pk).update(share_done=share, doing=doing[:60])

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
