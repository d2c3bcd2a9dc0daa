"""Scoop coaters: which fits which frame and image, and what their condition does to a coat."""

from dataclasses import dataclass

from frimble.core.conclusions import Settings, require_between

# What a look along the edge finds: words, what it does to the coat, what to do about it, whether it may still coat.
CONDITIONS = {
    "good": ("clean and straight", "", "", True),
    "dried": ("dried emulsion on the edge", "leaves light lines along the stroke", "soak and buff the edge", False),
    "chipped": ("chipped edge", "leaves thick beads that will not expose through",
                "sand out a small chip, replace the coater for a large one", False),
    "worn": ("worn or bowed edge", "lays an uneven coat, thick in the middle or at the sides",
             "check it against a straight edge and replace it", False),
    "caps": ("loose end caps", "spill, and run down at both sides", "seat the caps before lifting the frame", True),
    "square": ("square ends", "leave ridges at both sides, which dry last", "keep it short of the frame, or round the ends",
               True),
}  # fmt: skip


@dataclass(frozen=True)
class CoaterFit:
    """Whether a coater suits a frame and an image, with the reason; `spare_mm` is what it has over the image."""

    fits: bool
    reason: str
    spare_mm: float


def fit(length_mm: float, inner_width_mm: float, image_mm: float, settings: Settings) -> CoaterFit:
    """Whether a coater passes between the rails clear of the joint and covers the image.

    Args:
        length_mm: of the coating edge. inner_width_mm: between the rails it runs along. image_mm: across the stroke.

    Raises:
        InvalidInput: a length no coater has.

    Common practice: off the frame's joint by a finger's width, past the image on both sides.
    """
    require_between(
        length_mm, settings["coater.least_mm"], settings["coater.most_mm"], "A coater's length, in mm,", "length_mm"
    )
    clear, cover = settings["coater.clear_mm"], settings["coater.cover_mm"]
    widest, narrowest = inner_width_mm - 2 * clear, image_mm + 2 * cover
    spare = length_mm - image_mm
    if length_mm > widest:
        reason = f"{length_mm:.0f} mm would run onto the frame joint: at most {widest:.0f} mm between these rails."
        return CoaterFit(False, reason, spare)
    if length_mm < narrowest:
        reason = (
            f"{length_mm:.0f} mm does not cover the image: at least {narrowest:.0f} mm, {cover:g} mm past it each side."
        )
        return CoaterFit(False, reason, spare)
    return CoaterFit(
        True,
        f"{length_mm:.0f} mm between rails {inner_width_mm:.0f} mm apart, over an image of {image_mm:.0f} mm.",
        spare,
    )


def largest_image_mm(length_mm: float, settings: Settings) -> float:
    """The widest image a coater covers, mm."""
    return float(max(0.0, length_mm - 2 * settings["coater.cover_mm"]))
