"""Reinsertion in a process of its own: two of them in threads would share one processor.

python -m frimble.core.planning.search.apart < request > tasks
"""

import pickle
import random
import subprocess
import sys
import time
from collections.abc import Iterator, Sequence
from pathlib import Path

from frimble.core.planning.dayplan import Task
from frimble.core.planning.search.occupied import Room
from frimble.core.planning.search.reinsertion import reinserted

# That a process takes to begin and to answer, and the least time that is worth one.
_TO_BEGIN_S, _WORTH_ONE_S = 0.3, 1.5
# Characters of what a process that failed has said.
_SAID = 2000
_ROOT = Path(__file__).resolve().parents[4]


def reinserted_apart(room: Room, tasks: Sequence[Task], seed: int, ends_at: float) -> list[Task]:
    """As `reinserted`, until a moment as `time.monotonic` counts; other threads go on meanwhile.

    Raises:
        ChildProcessError: the process failed; with the end of what it said.
    """
    left = ends_at - time.monotonic()
    if left < _WORTH_ONE_S:
        return reinserted(room, tasks, random.Random(seed), shares(left))
    request = pickle.dumps((room.day, tasks, seed, left - _TO_BEGIN_S))
    # Nothing of the request comes from outside: the interpreter, this module, and a day that was read already.
    command = [sys.executable, "-m", "frimble.core.planning.search.apart"]
    done = subprocess.run(command, input=request, capture_output=True, check=False, cwd=_ROOT)  # noqa: S603
    if done.returncode:
        raise ChildProcessError(f"Reinsertion failed: {done.stderr.decode(errors='replace')[-_SAID:]}")
    return list(pickle.loads(done.stdout))  # noqa: S301 - written by the process that was just begun


def shares(seconds: float) -> Iterator[float]:
    """How much of the time from now is over, until it is."""
    begun = time.monotonic()
    while (share := (time.monotonic() - begun) / seconds if seconds > 0 else 1.0) < 1:
        yield share


def main() -> None:
    day, tasks, seed, seconds = pickle.load(sys.stdin.buffer)  # noqa: S301 - written by the process that began this one
    pickle.dump(reinserted(Room(day), tasks, random.Random(seed), shares(seconds)), sys.stdout.buffer)


if __name__ == "__main__":
    main()
