"""Stencil proofs: time against decoding the film, memory, and step tests' window ends told again by the proof's own laws.

python -m bench.stencil_proofs [--dpi 600] [--tests 200]
"""

import argparse
import math
import resource
import time

import cv2
import numpy as np

from bench.other import windows
from frimble.core.exposure.steptest.window import fit_window
from frimble.core.mesh.geometry import geometry
from frimble.core.settings import HouseSettings
from frimble.core.statistics.interval import Interval
from frimble.core.stencil.proof.constants import constants
from frimble.core.stencil.proof.proofing import proof

_A3_MM = (420, 297)
_MM_PER_INCH = 25.4
_SETTINGS = HouseSettings()
_SECOND_SEED = 66_000


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--dpi", type=int, default=600)
    parser.add_argument("--tests", type=int, default=200)
    options = parser.parse_args()
    whole_film(options.dpi)
    window_ends(options.tests)
    second_readings(options.tests)


def whole_film(dpi: int) -> None:
    encoded = bytes(cv2.imencode(".png", _film(dpi))[1])
    began = time.perf_counter()
    decoded = cv2.imdecode(np.frombuffer(encoded, np.uint8), cv2.IMREAD_GRAYSCALE)
    decoding = time.perf_counter() - began
    black = decoded < 128
    known = constants(geometry(77, 48, _SETTINGS), True, 12, Interval(40, 36, 45), 90, (3.4, 0.06), _SETTINGS)
    began = time.perf_counter()
    found = proof(black, dpi, geometry(77, 48, _SETTINGS), known.light(55), _SETTINGS)
    seconds = time.perf_counter() - began
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1e6
    print(
        f"A3 at {dpi} dpi, {black.size / 1e6:.0f} million pixels: decoding {decoding:.2f} s, proof {seconds:.2f} s, "
        f"{seconds / decoding:.1f} ×; {peak:.2f} GB at most; {len(found.findings)} findings"
    )


def _film(dpi: int) -> np.ndarray:
    """Tints at 45 lines an inch, lines of many widths and solid shapes on a whole sheet."""
    wide, high = (round(mm / _MM_PER_INCH * dpi) for mm in _A3_MM)
    sheet = np.full((high, wide), 255, np.uint8)
    pitch = dpi / 45
    for top in range(0, high // 2, 500):
        end = min(top + 500, high // 2)
        rows = np.arange(top, end)[:, None] % pitch - pitch / 2
        columns = np.arange(wide)[None, :]
        radius = pitch * 0.6 * columns / wide
        sheet[top:end][np.hypot(rows, columns % pitch - pitch / 2) < radius] = 0
    for k in range(60):
        x = round((k + 0.5) * wide / 60)
        sheet[high // 2 + 200 : high - 400, x : x + 1 + k // 2] = 0
    cv2.circle(sheet, (wide // 2, high - 250), 180, 0, -1)
    return sheet


def window_ends(tests: int) -> None:
    """Shops with laws of their own: whether the proof's finest opening at the window's end is the one that closed there.

    The hidden shop's light is not normal but falls off exponentially to the sides, and cures by another ratio.
    """
    rng = np.random.default_rng(4)
    inside = tried = 0
    while tried < tests:
        full, ratio = float(rng.uniform(8, 90)), float(rng.uniform(3.5, 7))
        reach_um = float(rng.uniform(18, 45))
        wanted = _SETTINGS["steptest.wanted_opening_um"]
        # The middle of a slit of width w under an exponential spread has exp(-w / 2r) of the light.
        closes = full / ratio * math.exp(wanted / 2 / reach_um)
        if not 1.1 * full < closes < 30 * full:
            continue
        tried += 1
        seen = closes * float(np.exp(rng.normal(0, 0.08)))
        known = constants(
            geometry(43, 80, _SETTINGS), False, 15, Interval(full, full * 0.9, full * 1.1), seen, (3.4, 0.06), _SETTINGS
        )
        # Another opening, 120 µm: when it closes by the hidden law, and by the proof.
        true = full / ratio * math.exp(120 / 2 / reach_um)
        told = [_closing_s(known, 120, factor) for factor in (0.85, 1.15)]
        inside += told[0] <= true <= told[1]
    print(
        f"when 120 µm close, told from when {wanted:g} µm closed, within 15 %: {inside} of {tests} shops of another law"
    )


def second_readings(tests: int) -> None:
    """Ends of the window that a proof tells from one reader's step test, within what another reader's test is fitted to.

    Readers err, lean and see a screen's patches by the laws of `bench.other.windows`.
    """
    held: dict[str, list[bool]] = {"full cure": [], "closing": []}
    for seed in range(_SECOND_SEED, _SECOND_SEED + tests):
        _, _, readings = windows.one_test(seed, 2)
        one, other = (fit_window([reading], _SETTINGS["steptest.wanted_opening_um"]) for reading in readings)
        if not all(fit.cured and fit.cured.bracketed and fit.closes and fit.closes.bracketed for fit in (one, other)):
            continue
        full = Interval(one.cured.value, one.cured.low, one.cured.high)
        density = (3.4, 0.06)
        known = constants(geometry(43, 80, _SETTINGS), False, 15, full, one.closes.value, density, _SETTINGS)
        told = {"full cure": known.full_s.value, "closing": _closing_s(known, _SETTINGS["steptest.wanted_opening_um"])}
        for name, fit in (("full cure", other.cured), ("closing", other.closes)):
            held[name].append(fit.low <= told[name] <= fit.high)
    words = ", ".join(f"{name} {np.mean(inside):.1%} of {len(inside)}" for name, inside in held.items())
    print(f"window ends told from one reader's test, within the 90 % interval of another's: {words}")


def _closing_s(known, width_um: float, factor: float = 1.0) -> float:
    """When a slit's middle gels by the proof's law, s, times a factor."""
    gel = known.full_s.value / known.cure_over_gel
    return gel / known.light(gel * 1.0001).middle_of_slit(width_um) * factor


if __name__ == "__main__":
    main()
