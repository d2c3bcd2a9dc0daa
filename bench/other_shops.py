"""How conclusions hold in shops whose laws differ from the program's models: `python -m bench.other_shops [name …]`."""

import sys

from bench.other import cases, drying, exposures, films, stencils, step_tests, strips, tension, windows
from frimble.core.settings import HouseSettings

SHOPS = {
    "strips": strips,
    "exposures": exposures,
    "windows": windows,
    "tension": tension,
    "drying": drying,
    "films": films,
    "cases": cases,
    "stencils": stencils,
    "step_tests": step_tests,
}


def main(names) -> None:
    settings = HouseSettings()
    for name in names or SHOPS:
        print(SHOPS[name].figures(settings), flush=True)


if __name__ == "__main__":
    main(sys.argv[1:])
