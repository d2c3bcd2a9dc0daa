"""Reclaiming a screen: the steps in their order with their timers."""

from dataclasses import dataclass

from frimble.core.conclusions import Settings

EMULSION_REMOVER = "emulsion remover"


@dataclass(frozen=True)
class ReclaimStep:
    """One step: what is done, with which pad, and seconds of dwell where it has one."""

    name: str
    words: str
    pad: str = ""
    dwell_s: float | None = None


def steps(settings: Settings, old: bool = False, haze: bool = False) -> tuple[ReclaimStep, ...]:
    """The steps in their order; never ink remover after emulsion remover, which would lock the stencil in.

    Args:
        old: the stencil is hardened or was kept long and wants a second round. haze: haze or a ghost image was seen.
    """
    dwell = settings["reclaim.dwell_s"]
    guide = [
        ReclaimStep("tape", "Tape off, ink scraped out to the last that moves."),
        ReclaimStep("wet", "Wet both sides: product on a dry spot can lock the stencil in."),
        ReclaimStep("ink remover", f"{settings['reclaim.ink_sprays']:g} sprays, both sides.", "ink pad"),
        ReclaimStep("rinse", "Close, in tight level tracks, both sides."),
        ReclaimStep(
            EMULSION_REMOVER,
            f"{settings['reclaim.emulsion_sprays']:g} sprays, both sides, extra at the edges. "
            "It must not dry: that makes the rest permanent.",
            "emulsion pad",
            dwell,
        ),
        ReclaimStep("pressure rinse", "Inches away, from the print side, then the squeegee side."),
    ]
    if old:
        guide.append(
            ReclaimStep("second round", "Emulsion remover again, hot water if there is any.", "emulsion pad", dwell)
        )
    guide.append(ReclaimStep("look", "Against light before it dries: a green shadow wants another round."))
    if haze:
        guide.append(
            ReclaimStep(
                "haze remover",
                "On the haze or ghost image only, as its label says. Gloves and goggles.",
                "haze pad",
                settings["reclaim.haze_dwell_s"],
            )
        )
        guide.append(ReclaimStep("last rinse", "Until nothing runs, both sides."))
    return tuple(guide)
