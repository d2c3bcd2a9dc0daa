"""The worker beside the server: started, watched, and started anew when it has died."""

import ctypes
import logging
import os
import signal
import subprocess
import sys
import threading
from collections.abc import Callable

from django.conf import settings
from django.db import connections

logger = logging.getLogger(__name__)

# From linux/prctl.h.
_PR_SET_PDEATHSIG = 1
_LOOK_EVERY_S = 2.0
# One that dies at once is not started in a loop that eats the machine.
_LONGEST_PAUSE_S = 60.0


class WatchedWorker:
    """A worker process that is started again whenever it ends by itself.

    Args:
        say: told in words each time it had to be started anew.
        before: done before each start, when no worker runs.
    """

    def __init__(self, say: Callable[[str], None], before: Callable[[], object]):
        self._say, self._before = say, before
        self._stopping = threading.Event()
        self._before()
        self._process = start_process()
        self._watcher = threading.Thread(target=self._watch, name="worker watch", daemon=True)
        self._watcher.start()

    @property
    def alive(self) -> bool:
        return self._process.poll() is None

    def stop(self) -> None:
        """End the worker for good."""
        self._stopping.set()
        self._watcher.join()
        self._process.terminate()

    def _watch(self) -> None:
        pause = _LOOK_EVERY_S
        while not self._stopping.wait(pause):
            if self.alive:
                pause = _LOOK_EVERY_S
                continue
            self._start_anew()
            pause = min(pause * 2, _LONGEST_PAUSE_S)

    def _start_anew(self) -> None:
        words = f"The worker ended with {self._process.returncode} and was started again."
        logger.error(words)
        self._say(words)
        try:
            self._before()
        except Exception:  # the worker is needed all the same, and the watch must go on
            logger.exception("What comes before the worker failed.")
        finally:
            connections.close_all()
        self._process = start_process()


def start_process() -> subprocess.Popen[bytes]:
    """A process for what outlasts a request, such as the check of a scan, at a lower priority than the pages."""
    command = [sys.executable, settings.BASE_DIR / "manage.py", "db_worker", "--no-reload", "--no-startup-delay"]
    return subprocess.Popen(command, env=os.environ | {"FRIMBLE_LOG": "worker"}, preexec_fn=_beside)  # noqa: S603


def _beside() -> None:
    """In the worker before it starts: gives way to the pages, and ends when the server is killed."""
    os.nice(5)
    if sys.platform == "linux":
        ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGTERM)
