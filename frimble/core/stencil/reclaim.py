"""Reclaiming a screen: the steps in their order with their timers."""

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True)
class Step:
    """One step: what is done, with which pad, and seconds of dwell where it has one."""

    name: str
    words: str
    pad: str = ""
    dwell_s: float | None = None


def steps(standards: Mapping, old: bool = False, haze: bool = False) -> tuple[Step, ...]:
    """The steps in their order; never ink remover after emulsion remover, which would lock the stencil in.

    Args:
        old: the stencil is hardened or was kept long and wants a second round. haze: a ghost was seen.
    """
    dwell = standards["reclaim.dwell_s"]
    found = [
        Step("tape", "Tape off, ink scraped out to the last that moves."),
        Step("wet", "Wet both sides: product on a dry spot can lock the stencil in."),
        Step("ink remover", f"{standards['reclaim.ink_sprays']:g} sprays, both sides.", "ink pad"),
        Step("rinse", "Close, in tight level tracks, both sides."),
        Step(
            "emulsion remover", f"{standards['reclaim.emulsion_sprays']:g} sprays, both sides, extra at the edges. "
            "It must not dry: that makes the rest permanent.", "emulsion pad", dwell,
        ),
        Step("pressure rinse", "Inches away, from the print side, then the squeegee side."),
    ]  # fmt: skip
    if old:
        found.append(Step("second round", "Emulsion remover again, hot water if there is any.", "emulsion pad", dwell))
    found.append(Step("look", "Against light before it dries: a green shadow wants another round."))
    if haze:
        found.append(
            Step("haze remover", "On the ghost only, as its label says. Gloves and goggles.", "haze pad",
                 standards["reclaim.haze_dwell_s"])
        )  # fmt: skip
        found.append(Step("last rinse", "Until nothing runs, both sides."))
    return tuple(found)
