"""What the wash page shows: the protocol, what is usual, and what the run says at each moment."""

from collections.abc import Sequence
from dataclasses import asdict, dataclass

from frimble.core.conclusions import Conclusion
from frimble.core.stencil import rinse
from frimble.core.stencil.finishing import BLOT, drying_minutes
from frimble.core.stencil.latent import LATENT_ADVICE
from frimble.core.units import show_seconds
from frimble.stencils.washing import learning

_THICK_STROKES = 5


@dataclass(frozen=True)
class Cue:
    """What is said from so many seconds of rinse on; `due` where somebody has to act."""

    at_s: float
    words: str
    due: bool


@dataclass(frozen=True)
class WashPart:
    """The page's part about the wash.

    Attributes:
        run: what the timers on the device want: seconds to soak, what is usual, what is said when.
    """

    usual: Conclusion | None
    protocol: Sequence[str]
    blot: Sequence[str]
    drying: Conclusion
    latent_advice: Sequence[tuple[str, str]]
    run: dict


def wash_part(screen, coat, usual: Conclusion | None, soak_s: float, air, settings) -> WashPart:
    """Protocol for the coat that this screen had, and what is said at each moment of a rinse."""
    cues = _cues(usual) if usual else []
    run = {
        "id": f"{screen.code}-{screen.revision}",
        "soak_s": soak_s,
        "usual": {"low": usual.low, "value": usual.value, "high": usual.high} if usual else None,
        "cues": [asdict(c) for c in cues],
        "short": _short(usual) if usual else "",
    }
    advice = [(k.value, words) for k, words in LATENT_ADVICE.items() if words]
    return WashPart(usual, _protocol(coat, soak_s, settings), BLOT, drying_minutes(air, settings), advice, run)


def _cues(usual: Conclusion) -> list[Cue]:
    far = rinse.beyond_use(usual)
    nearly = usual.known
    long, none = rinse.pace(usual.interval.high * 1.01, usual, False), rinse.pace(far * 1.01, usual, False)
    return [
        Cue(nearly, "Most are open by now: hold it against the light.", False),
        Cue(usual.interval.high, f"{long.verdict.capitalize()}. {long.why} {long.now}", True),
        Cue(far, f"Stop. {none.now}", True),
    ]


def _short(usual: Conclusion) -> str:
    short = rinse.pace(usual.interval.low * 0.99, usual, True)
    return f"{short.verdict.capitalize()}. {short.why} {short.now}"


def _protocol(coat, soak_s: float, settings) -> list[str]:
    """Common practice, no source: both sides wet, soak, rinse from the print side above to below the image."""
    thick = coat is not None and learning.strokes_of(coat, settings) >= _THICK_STROKES
    soak = f"Soak {show_seconds(soak_s)}" + ("; a thick coat wants one to two minutes." if thick else ".")
    return [
        "Wet both sides, the squeegee side (ink side) lightly first.",
        soak,
        "Rinse from the print side (garment side), from 75 mm above the image to 75 mm below it, at one distance, cold or "
        "lukewarm water.",
        "Stop when every opening passes light. Dark stencil that bubbles means stop: too far.",
        "Without a booth: a narrowed hose, a soft sponge and patience. No nails or brushes on edges.",
    ]
