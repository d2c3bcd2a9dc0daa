"""Checking a scan off the request: opens it, runs the core's check, keeps what the film sheet shows."""

import dataclasses
import io

from django.core.files.base import ContentFile
from django.db import transaction
from django.utils import timezone
from django_tasks import task

from frimble.core.conclusion import OutOfRange
from frimble.core.units import MM_PER_INCH
from frimble.films.models import DensityReading, Judgement, Positive, ScanCheck
from frimble.people import standards

# The sheet's picture has at most this many pixels a side; the loupe asks for the scan itself.
_PICTURE_SIDE = 1600
_TELL_EVERY = 0.05


def submit(positive: Positive, person, *, scan, dpi, encoding, wedge, mesh) -> ScanCheck:
    """Store a scan and put its check in the queue.

    Raises:
        OutOfRange: not a picture of a kind that can be read, or a wedge that cannot be.
    """
    from frimble.core.film.opening import kind_of
    from frimble.core.film.wedge import wedge_or_densities

    kind_of(scan.read(16))
    scan.seek(0)
    wedge_or_densities(wedge)
    with transaction.atomic():
        check = ScanCheck.objects.create(
            positive=positive,
            scan=scan,
            dpi=dpi,
            encoding=encoding,
            wedge=wedge,
            mesh=mesh,
            at=timezone.now(),
            by=person,
        )
        transaction.on_commit(lambda: run_check.enqueue(check.pk))
    return check


@task
def run_check(pk: int) -> None:
    """Check one scan; the record says how far it has come, and in the end what was found or why not."""
    check = ScanCheck.objects.get(pk=pk)
    if check.state in (ScanCheck.State.DONE, ScanCheck.State.REFUSED):
        return
    ScanCheck.objects.filter(pk=pk).update(state=ScanCheck.State.RUNNING, doing="opening the scan")
    try:
        _check(check)
    except OutOfRange as error:
        ScanCheck.objects.filter(pk=pk).update(state=ScanCheck.State.REFUSED, refusal=str(error)[:400])


def _check(check: ScanCheck) -> None:
    # The image libraries load with the first check, not with the first page.
    from frimble.core.film.check import check_reading
    from frimble.core.film.findings import limits_for
    from frimble.core.film.opening import open_scan
    from frimble.core.film.reading import read_densities
    from frimble.core.film.register import find_marks
    from frimble.core.film.wedge import wedge_or_densities

    in_force = standards.current()
    with check.scan.open() as file:
        scan = open_scan(file.read(), check.dpi, check.encoding, in_force)
    wedge, to_find = wedge_or_densities(check.wedge)
    limits = (
        limits_for(in_force, check.mesh.geometry(in_force), str(check.mesh)) if check.mesh else limits_for(in_force)
    )
    tell = _teller(check.pk)
    tell(0.06, "measuring the sheet")
    reading = read_densities(scan, wedge, to_find)
    found = check_reading(reading, limits, tell)
    check.picture.save("picture", ContentFile(_picture(scan)), save=False)
    check.detail.save("detail", ContentFile(_whole(scan)), save=False)
    check.densities.save("densities", ContentFile(_density_map(reading)), save=False)
    check.result = _plain(found, scan, limits, reading) | {"marks": _numbers(find_marks(scan).tolist())}
    check.state, check.share_done, check.doing = ScanCheck.State.DONE, 1, ""
    check.save()


def _teller(pk):
    told = [0.0]

    def tell(share, doing):
        if share - told[0] >= _TELL_EVERY:
            told[0] = share
            ScanCheck.objects.filter(pk=pk).update(share_done=share, doing=doing[:60])

    return tell


def _plain(found, scan, limits, reading) -> dict:
    result = dataclasses.asdict(found)
    result["findings"] = [dataclasses.asdict(f) | {"label": f.label, "unit": f.unit} for f in found.findings]
    width, height = scan.size_mm
    result |= {
        "width_mm": width, "height_mm": height, "dpi": scan.dpi, "limits": dataclasses.asdict(limits),
        "step_mm": reading.cells.step_mm, "ceiling": float(reading.curve.ceiling),
        "calibrated": reading.curve.wedge is not None,
    }  # fmt: skip
    return _numbers(result)


def _numbers(value):
    """numpy's numbers as JSON knows them, rounded to what was measured."""
    if isinstance(value, dict):
        return {k: _numbers(v) for k, v in value.items()}
    if isinstance(value, list | tuple):
        return [_numbers(v) for v in value]
    if isinstance(value, bool | str | int) or value is None:
        return value
    return value.item() if hasattr(value, "dtype") and value.dtype == bool else round(float(value), 4)


def _picture(scan) -> bytes:
    from PIL import Image

    image = Image.fromarray(scan.grey())
    image.thumbnail((_PICTURE_SIDE, _PICTURE_SIDE))
    file = io.BytesIO()
    image.save(file, "PNG")
    return file.getvalue()


def _whole(scan) -> bytes:
    """The grey picture unpacked, so that the loupe reads a corner of it without opening the whole scan."""
    import numpy as np

    file = io.BytesIO()
    np.save(file, scan.grey())
    return file.getvalue()


def _density_map(reading) -> bytes:
    """Density of each cell in fiftieths, as a grey PNG the page reads under the pointer."""
    import numpy as np
    from PIL import Image

    file = io.BytesIO()
    Image.fromarray(np.clip(np.rint(reading.density * 50), 0, 255).astype(np.uint8)).save(file, "PNG")
    return file.getvalue()


def loupe(check: ScanCheck, x_mm: float, y_mm: float, side_mm: float, dark: bool) -> bytes:
    """A PNG of the scan at full resolution about a place; `dark` in amber for a room with live emulsion."""
    import numpy as np
    from PIL import Image

    grey = np.load(check.detail.path, mmap_mode="r")
    per_mm = check.result["dpi"] / MM_PER_INCH
    half = max(2, round(side_mm / 2 * per_mm))
    column, row = round(x_mm * per_mm), round(y_mm * per_mm)
    window = np.zeros((2 * half, 2 * half), np.uint8)
    top, left = max(0, row - half), max(0, column - half)
    part = grey[top : max(0, row + half), left : max(0, column + half)]
    down, across = top - (row - half), left - (column - half)
    window[down : down + part.shape[0], across : across + part.shape[1]] = part
    return _png(Image.fromarray(window).resize((400, 400), Image.Resampling.NEAREST), dark)


def sheet_picture(check: ScanCheck, dark: bool) -> bytes:
    """The whole sheet as a PNG, in amber for a room with live emulsion."""
    from PIL import Image

    with check.picture.open() as file:
        return _png(Image.open(file).convert("L"), dark)


def _png(image, dark: bool) -> bytes:
    from PIL import Image

    if dark:  # amber monochrome: no blue at all
        image = Image.merge("RGB", (image, image.point(lambda v: v * 6 // 10), Image.new("L", image.size)))
    file = io.BytesIO()
    image.save(file, "PNG")
    return file.getvalue()


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
