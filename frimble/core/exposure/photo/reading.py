"""A photo of a rinsed step test from its bytes to its reading."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from frimble.core.conclusions import InvalidInput, RuleViolation, Settings, require_between
from frimble.core.exposure.photo.concluding import PhotoReading, checked_times, conclude, unread
from frimble.core.exposure.photo.finding import find
from frimble.core.exposure.photo.measuring import StraightenedPhoto, measure, straighten
from frimble.core.exposure.target.geometry import SCALE_BAR_MM, Target
from frimble.core.photo.opening import open_photo

_FEWEST_KNOWN = 4


@dataclass(frozen=True)
class ReadPhoto:
    """The reading, and the photo as if from straight above; None where the film was not found on it."""

    reading: PhotoReading
    straight: StraightenedPhoto | None


def read_photo(
    data: bytes,
    target: Target,
    times_s: Sequence[float | None],
    wanted_um: float,
    settings: Settings,
    scale_bar_mm: float = SCALE_BAR_MM,
) -> ReadPhoto:
    """Read a step test off a photo.

    Args:
        data: the photo's file. times_s: seconds of light of step 1, 2, …; None where it is not known: that step is left
            out. wanted_um: finest opening that must stay clear.
        scale_bar_mm: what the film's scale bar measures as printed.

    Returns:
        A reading with a time, or one whose `refused` says why there is none.

    Raises:
        InvalidInput: not a photo, times that cannot be, or a film printed at another size.
    """
    unknown = tuple(n for n, time in enumerate(times_s, start=1) if time is None)
    known = _without(target, unknown)
    times = checked_times([t for t in times_s if t is not None], len(known.steps), settings)
    if unknown and len(times) < _FEWEST_KNOWN:
        raise InvalidInput(f"Of {len(times)} steps alone the time is known: too few to read a photo by.", "times")
    least, most = settings["steptest.loupe_least_um"], settings["steptest.loupe_most_um"]
    require_between(wanted_um, least, most, "The finest wanted opening, in µm,", "wanted_um")
    check_scale(scale_bar_mm, settings)
    picture = open_photo(data, settings)
    straight = None
    try:
        straight = straighten(find(picture, target), target)
        # A film printed larger has every opening as much wider.
        reading = conclude(measure(straight, known), times, wanted_um * SCALE_BAR_MM / scale_bar_mm, settings)
        return ReadPhoto(_leaving_out(reading, unknown), straight)
    except RuleViolation as refusal:
        return ReadPhoto(unread(times, wanted_um, refusal.reason), straight)


def _without(target: Target, steps: Sequence[int]) -> Target:
    """The film as if it had not these steps; its markers are all looked for."""
    return replace(
        target,
        steps=tuple(s for s in target.steps if s.index not in steps),
        patches=tuple(p for p in target.patches if p.step not in steps),
    )


def _leaving_out(reading: PhotoReading, steps: Sequence[int]) -> PhotoReading:
    if not steps:
        return reading
    named = ", ".join(map(str, steps))
    words = f"{'Step' if len(steps) == 1 else 'Steps'} {named} left out: how long the light was on is not known."
    return replace(reading, reason=f"{reading.reason} {words}".strip())


def check_scale(scale_bar_mm: float, settings: Settings) -> None:
    """Raises InvalidInput when the printer did not keep the film's size."""
    off = scale_bar_mm / SCALE_BAR_MM - 1
    if abs(off) > settings["target.most_stretch"]:
        raise InvalidInput(
            f"The film's scale bar measures {scale_bar_mm:g} mm and not {SCALE_BAR_MM:g}: the printer scaled it by "
            f"{off * 100:+.1f} %, and its lines are no longer whole. Print it again at 100 %, without “fit to page”.",
            "scale_bar_mm",
        )
