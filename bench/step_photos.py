"""Reads simulated photos of step tests and prints how often the time was right, and what a photo costs.

Run: .venv/bin/python bench/step_photos.py [--photos 60] [--first 50000]
The truth of each photo is known and hidden from the reader; seeds from 50000 on were not looked at while it was made.
Reading is timed against decoding the same photo, as a ratio in the same run.
"""

import argparse
import statistics
import sys
import time
from multiprocessing import Pool
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))


def read_one(seed: int) -> dict:
    """One photo: its true window, what was read, and the seconds of decoding and of the whole reading."""
    import cv2
    import numpy as np

    from frimble.core.exposure.photo.reading import read_photo
    from frimble.core.settings import HouseSettings
    from frimble.core.testing.step_photos import shoot

    shot = shoot(seed)
    began = time.perf_counter()
    cv2.imdecode(np.frombuffer(shot.data, np.uint8), cv2.IMREAD_COLOR)
    decoded = time.perf_counter()
    found = read_photo(shot.data, shot.target, shot.times_s, 150, HouseSettings()).reading
    low, high = shot.window_s
    return {
        "seed": seed,
        "low": low,
        "high": high,
        "found": found,
        "decode": decoded - began,
        "read": time.perf_counter() - decoded,
    }


def main() -> None:
    asked = argparse.ArgumentParser()
    asked.add_argument("--photos", type=int, default=60)
    asked.add_argument("--first", type=int, default=50_000)
    asked.add_argument("--timed", type=int, default=6, help="photos timed one after the other")
    given = asked.parse_args()
    with Pool(2) as pool:
        results = pool.map(read_one, range(given.first, given.first + given.photos), chunksize=1)
    told(results)
    times = [read_one(given.first + k) for k in range(given.timed)]
    read, decode = statistics.median(r["read"] for r in times), statistics.median(r["decode"] for r in times)
    print(f"reading {read:.2f} s, {read / decode:.1f} x decoding the same 12-megapixel photo (median of {given.timed})")


def told(results: list[dict]) -> None:
    """Counts and errors over all photos whose window is open, and what was refused and why."""
    right = [r for r in results if not r["found"].refused]
    inside = [r["low"] <= r["found"].recommended_s <= r["high"] for r in right]
    sure = [i for i, r in zip(inside, right, strict=True) if r["found"].sure]
    off = [abs(r["found"].low_s / r["low"] - 1) for r in right]
    print(f"{len(results)} photos, {len(right)} given a time, {sum(inside)} of them inside the true window")
    print(f"sure of {len(sure)}, {sum(sure)} of them inside")
    print(f"full cure off by {statistics.median(off) * 100:.1f} % (median), {max(off) * 100:.1f} % (most)")
    closing = [r["found"].high_s / r["high"] for r in right]
    print(f"closing of 150 um read as {statistics.median(closing):.2f} x the truth (median)")
    for r in results:
        if r["found"].refused:
            print(f"refused {r['seed']}, true window x{r['high'] / r['low']:.2f}: {r['found'].refused[:110]}")
        elif not r["low"] <= r["found"].recommended_s <= r["high"]:
            print(
                f"missed {r['seed']}, x{r['high'] / r['low']:.2f}, {r['found'].confidence:.2f} sure, "
                f"{r['found'].recommended_s / r['low']:.2f} x full cure"
            )


if __name__ == "__main__":
    main()
