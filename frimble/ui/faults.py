"""What the database or a disk would not take or give, in words."""

import errno
from typing import NamedTuple

from django.db import OperationalError


class Told(NamedTuple):
    """What the page says, with its status; whether what was typed may be sent again."""

    words: str
    status: int
    again: bool = True


_FULL = Told("The disk of the server is full. Make room, then send it again.", 503)
_CLOSED = Told("The data folder may not be written to. Let the server's user write there, then send it again.", 503)
_BUSY = Told("Others are recording much at once. Send it again in a moment.", 503)
_OTHER = Told("The database did not take it. Send it again; if it happens once more, the log says why.", 503)
_DISK = Told("A disk of the server fails. Send it again; if it happens once more, the log says why.", 503)
_TOO_LONG = Told("That is longer than can be looked for.", 400, again=False)
_GONE = Told("The file that belongs here is not in the data folder any more. A backup may hold it.", 404, again=False)
_UNREADABLE = Told("A file of the data folder may not be read. Let the server's user read it.", 503, again=False)

# By what SQLite says. Source: SQLite, Result and Error Codes: SQLITE_FULL, SQLITE_READONLY, SQLITE_BUSY; Implementation
# Limits: a pattern of LIKE has 50,000 bytes at most.
_OF_DATABASE = {"full": _FULL, "readonly": _CLOSED, "locked": _BUSY, "pattern too complex": _TOO_LONG}
# Source: POSIX.1-2017, <errno.h>.
_OF_DISK = {
    errno.ENOENT: _GONE, errno.ENOSPC: _FULL, errno.EDQUOT: _FULL, errno.EROFS: _CLOSED, errno.EACCES: _CLOSED,
    errno.EPERM: _CLOSED, errno.EIO: _DISK,
}  # fmt: skip


def told(fault: Exception, *, writes: bool) -> Told | None:
    """What a page says of a fault; None where it is none of a database or a disk.

    Args:
        writes: something was sent to be kept.
    """
    if isinstance(fault, OperationalError):
        return next((said for mark, said in _OF_DATABASE.items() if mark in str(fault)), _OTHER)
    if not isinstance(fault, OSError) or fault.errno not in _OF_DISK:
        return None
    said = _OF_DISK[fault.errno]
    return _UNREADABLE if said is _CLOSED and not writes else said
