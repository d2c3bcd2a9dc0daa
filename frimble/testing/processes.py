"""Servers in processes of their own: a port for one, and when it answers."""

import signal
import socket
import subprocess
import urllib.request

# A busy machine takes a minute to start one.
_LOOKS, _EVERY_S = 1200, 0.1


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


def wait_until_up(process: subprocess.Popen, port: int) -> None:
    """Return as soon as the server answers.

    Raises:
        AssertionError: it has ended, or does not answer within two minutes.
    """
    for _ in range(_LOOKS):
        try:
            urllib.request.urlopen(f"http://127.0.0.1:{port}/alive/", timeout=2).read()
            return
        except OSError:
            if process.poll() is not None:
                raise AssertionError("the server did not start") from None
            signal.sigtimedwait([], _EVERY_S)
    raise AssertionError("the server did not answer")
