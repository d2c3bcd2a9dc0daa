"""Checks an A3 film at 600 dpi and prints times and memory as ratios, beside a general-library pipeline in the same run.

Run: .venv/bin/python bench/film_scan.py
Each stage runs in a process of its own so that its peak memory can be read. The general pipeline (scikit-image:
threshold, label, measure regions) finds dark and bright blobs only; it is there for scale, not for what it concludes.
"""

import argparse
import json
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))
WIDTH_MM, HEIGHT_MM, DPI = 297, 420, 600


def draw(path: Path) -> None:
    """A plausible A3 positive: solids, words, tints, lines, a wedge and faults."""
    import cv2

    from frimble.core.simulation.scanner import ScannerOptics, SimulatedFilm, scan

    film = SimulatedFilm(WIDTH_MM, HEIGHT_MM, DPI)
    film.solid(20, 20, 120, 150)
    film.solid(20, 300, 200, 60)
    for k in range(12):
        film.text(20, 185 + k * 9, 4 + k % 3, "Estuary regatta, tide clocks and oyster sacks 2026", ink=1.0)
    for k, coverage in enumerate((0.1, 0.3, 0.5, 0.7, 0.9, 0.93)):
        film.halftone(160 + k % 2 * 60, 20 + k // 2 * 55, 50, 50, 45, 22.5, coverage)
    for k in range(20):
        film.line([(240, 200 + k * 4), (285, 200 + k * 4)], 0.3 + 0.02 * k)
        film.pinhole(30 + 5 * k, 40 + 3 * k, 0.08 + 0.01 * k)
    film.weak_area(60, 110, 30, 20, 1.8)
    film.scratch([(40, 310), (90, 340)], 0.08)
    film.step_wedge(20, 400, 12)
    codes, _ = scan(film, ScannerOptics(skew_deg=0.8, vignetting=0.05, flare=0.0003), 1)
    cv2.imwrite(str(path), codes)


def peak_bytes() -> int:
    """High-water mark of this process's memory since `forget_peak`."""
    status = Path("/proc/self/status").read_text()
    return int(status.split("VmHWM:")[1].split()[0]) * 1024


def resident_bytes() -> int:
    return int(Path("/proc/self/statm").read_text().split()[1]) * 4096


def forget_peak() -> None:
    Path("/proc/self/clear_refs").write_text("5")


def stage(name: str, path: Path) -> dict:
    """Run one stage in this process: its times and what it added to the process's peak memory."""
    import cv2

    began = time.perf_counter()
    codes = cv2.imread(str(path), cv2.IMREAD_UNCHANGED)
    decode = time.perf_counter() - began
    told = {"decode": decode, "pixels": int(codes.size)}
    if name == "check":
        from frimble.core.film.check import check_scan
        from frimble.core.film.findings import limits_for
        from frimble.core.film.scan.grid import Scan
        from frimble.core.film.wedge.definition import Wedge
        from frimble.core.settings import HouseSettings
        from frimble.core.simulation.scanner import WEDGE_DENSITIES

        forget_peak()
        base = resident_bytes() - codes.nbytes
        began = time.perf_counter()
        check = check_scan(Scan(codes, float(DPI)), limits_for(HouseSettings()), Wedge(20, 400, 12, WEDGE_DENSITIES))
        told["findings"] = len(check.findings)
    elif name == "general":
        from skimage import filters, measure

        forget_peak()
        base = resident_bytes() - codes.nbytes
        began = time.perf_counter()
        bar = filters.threshold_otsu(codes)
        told["findings"] = sum(
            len(measure.regionprops_table(measure.label(mask), properties=("label", "area", "bbox"))["label"])
            for mask in (codes > bar, codes <= bar)
        )
    told["analyse"] = time.perf_counter() - began
    # The decoded picture itself counts: it must be held while it is analysed.
    return told | {"bytes_a_pixel": (peak_bytes() - base) / codes.size}


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--stage", choices=("check", "general"))
    parser.add_argument("--scan", type=Path)
    parser.add_argument("--runs", type=int, default=9)
    given = parser.parse_args()
    if given.stage:
        print(json.dumps(stage(given.stage, given.scan)))
        return
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "a3.png"
        draw(path)
        for name in ("check", "general"):
            runs = [
                json.loads(subprocess.check_output([sys.executable, __file__, "--stage", name, "--scan", str(path)]))  # noqa: S603
                for _ in range(given.runs if name == "check" else 1)
            ]
            ratios = sorted(r["analyse"] / r["decode"] for r in runs)
            middle = {part: statistics.median(r[part] for r in runs) for part in ("decode", "analyse", "bytes_a_pixel")}
            print(
                f"{name}: {runs[0]['pixels'] / 1e6:.0f} Mpixel, decode {middle['decode']:.2f} s, analyse "
                f"{middle['analyse']:.2f} s = {statistics.median(ratios):.2f} × decode ({ratios[0]:.2f} to "
                f"{ratios[-1]:.2f} in {len(runs)} runs), {middle['bytes_a_pixel']:.1f} bytes a pixel, "
                f"{runs[0]['findings']} findings"
            )


if __name__ == "__main__":
    main()
