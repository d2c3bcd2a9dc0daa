"""Off-contact: how far the mesh stands off the goods, how much that stretches the image, what low tension asks of it."""

import math

from frimble.core.conclusions import Conclusion, Settings, require_between, require_positive
from frimble.core.verdicts import OffContact


def growth(span_mm: float, gap_mm: float) -> float:
    """How much longer a mesh of free length `span_mm` becomes when it is pressed down over `gap_mm`, mm.

    Source: geometry; L' = 2 √((L/2)² + h²).
    """
    require_positive(span_mm, "The free mesh, in mm,", "span_mm")
    require_between(gap_mm, 0, span_mm / 4, "The off-contact, in mm,", "gap_mm")
    return 2 * math.hypot(span_mm / 2, gap_mm) - span_mm


def off_contact(span_mm: float, image_mm: float, tension_n_per_cm: float, settings: Settings) -> Conclusion:
    """The off-contact to begin with, mm, and what it does to the image.

    A slacker mesh needs more of it to lift off the goods again, in the ratio of the tensions.
    """
    require_positive(tension_n_per_cm, "Tension, in N/cm,", "tension_n_per_cm")
    require_between(image_mm, 1, span_mm, "The image, in mm,", "image_mm")
    usual, most = settings["press.off_contact_mm"], settings["press.most_off_contact_mm"]
    wanted = usual * max(1.0, settings["tension.good_from"] / tension_n_per_cm)
    stretched = growth(span_mm, wanted) * image_mm / span_mm
    rule = (
        f"At {tension_n_per_cm:.1f} N/cm begin with {wanted:.1f} mm; the image of {image_mm:.0f} mm grows by "
        f"{stretched:.3f} mm."
    )
    if wanted > most:
        reason = f"{rule} More than {most:g} mm smears and wears the mesh: re-tension it or take a tighter screen."
        return Conclusion(wanted, "mm", OffContact.TOO_SLACK, reason, "common practice")
    reason = f"{rule} Thick white on cloth takes about {most:g} mm; less is better where it still lifts cleanly."
    return Conclusion(wanted, "mm", OffContact.WILL_DO, reason, "common practice")


def on_press(tension_n_per_cm: float, settings: Settings) -> tuple[str, ...]:
    """What a slack screen will cost on press, in words; empty for one that is tight enough."""
    if tension_n_per_cm >= settings["tension.good_from"]:
        return ()
    said = ["The mesh follows the squeegee and lifts late: soft edges, and colours that do not meet."]
    if tension_n_per_cm < settings["tension.poor_below"]:
        said.append("The print sinks into the goods: opaque work wants another flash and another pass.")
    said.append("More pressure and more off-contact will be asked for; both wear it further.")
    return tuple(said)
