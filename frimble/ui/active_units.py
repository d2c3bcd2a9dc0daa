"""The units of whoever looks at the page: set for a request, metric outside of one."""

from contextvars import ContextVar

from frimble.core.mesh.geometry import trade_count

_INCH: ContextVar[bool] = ContextVar("inch", default=False)


def activate(inch: bool) -> None:
    """From now on in this request, show inches or not."""
    _INCH.set(inch)


def inch() -> bool:
    return _INCH.get()


def mesh_words(count_per_cm: float, thread_um: float) -> str:
    """Count and thread as the person knows the mesh: 43-80, or by its trade name 110-80."""
    count = trade_count(count_per_cm) if inch() else count_per_cm
    return f"{count:.0f}-{thread_um:.0f}"
