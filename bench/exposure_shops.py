"""Foretells untested exposure times in simulated shops with hidden constants and prints how near and how honestly.

Run: .venv/bin/python bench/exposure_shops.py [--shops 200] [--first 1000]
Each shop gives twelve step tests and twenty combinations that it never tested. The error is set against that of common
practice alone, as a ratio in the same run; the tests of the project use shops 0 to 199.
"""

import argparse
import statistics
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))


def main() -> None:
    from frimble.core.settings import HouseSettings
    from frimble.core.testing.exposure_shops import predicted

    asked = argparse.ArgumentParser()
    asked.add_argument("--shops", type=int, default=200)
    asked.add_argument("--first", type=int, default=1000)
    given = asked.parse_args()
    seeds = range(given.first, given.first + given.shops)
    told = [predicted(seed, HouseSettings()) for seed in seeds]
    untaught = [predicted(seed, HouseSettings(), tests=0) for seed in seeds]
    off, blind = (statistics.median(v for t in some for v in t.off) for some in (told, untaught))
    held = [statistics.mean(t.held) for t in told]
    print(f"{given.shops} shops: off by {off * 100:.1f} % (median), {off / blind:.2f} x common practice alone")
    print(
        f"90 % intervals held {statistics.mean(held) * 100:.1f} % of the time; least of any shop {min(held) * 100:.0f} %"
    )
    right = statistics.mean(v for t in told for v in t.right)
    print(f"a test's own time lay in the true window {right * 100:.1f} % of the time")


if __name__ == "__main__":
    main()
