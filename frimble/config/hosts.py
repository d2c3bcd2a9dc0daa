"""The names by which the server may be reached: those it was told, its own, and the one the first start was made under."""

import socket
from collections.abc import Iterable, Iterator
from functools import cache
from pathlib import Path


class RoomHosts:
    """What Django reads as its allowed hosts on a network. The learnt ones stand in a file, so that every process has them.

    Until the room's first start any name leads there: nobody knows yet what the devices call this machine, and the start
    itself is guarded by a code.
    """

    def __init__(self, told: Iterable[str], folder: Path):
        self._told, self._file = list(told), folder / "hosts"

    def __iter__(self) -> Iterator[str]:
        yield from self._told
        yield from own_names()
        yield from self.learnt() if self._file.is_file() else ["*"]

    def learnt(self) -> list[str]:
        """The names that a first start was made under."""
        return self._file.read_text().split() if self._file.is_file() else []

    def learn(self, name: str = "") -> None:
        """The first start was made under this name; from now on no others than those known lead here."""
        known = {*self._told, *own_names(), *self.learnt(), ""}
        self._file.write_text("\n".join([*self.learnt(), *({name} - known)]) + "\n")


@cache
def own_names() -> tuple[str, ...]:
    """This machine's name, with and without the suffix of a local network, and its addresses."""
    name = socket.gethostname()
    return (name, f"{name}.local", *own_addresses())


@cache
def own_addresses() -> tuple[str, ...]:
    """The IPv4 addresses under which other devices of the local network see this machine."""
    found = {entry[4][0] for entry in _resolved(socket.gethostname())}
    # No packet is sent: it only asks which interface would be taken.
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        try:
            probe.connect(("192.0.2.1", 9))
            found.add(probe.getsockname()[0])
        except OSError:
            pass
    return tuple(sorted(found - {"127.0.0.1", "127.0.1.1", "0.0.0.0"}))  # noqa: S104


def _resolved(name: str) -> list:
    try:
        return socket.getaddrinfo(name, None, socket.AF_INET)
    except OSError:
        return []
