"""Below which tension a screen is slack, by the kind of its frame."""

from frimble.core.conclusions import Settings

# Frames that are re-tensioned by themselves, and those whose mesh is stapled or corded into wood.
RETENSIONABLE = frozenset({"roller", "draw_bar"})
_KEYS = {"wood": "tension.poor_wood", **dict.fromkeys(RETENSIONABLE, "tension.poor_retension")}
_USUAL = "tension.poor_below"


def poor_below(frame_kind: str, settings: Settings) -> float:
    """N/cm below which a mesh on this kind of frame is slack; an unknown kind counts as glued to metal."""
    return float(settings[_KEYS.get(frame_kind, _USUAL)])


def kinds_with_own_limit(settings: Settings) -> dict[str, float]:
    """Every kind of frame that has a limit of its own, with it, N/cm."""
    return {kind: poor_below(kind, settings) for kind in _KEYS}
