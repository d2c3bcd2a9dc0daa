"""Whether a finished stencil is hardened for its run, how, and what that costs at its reclaim."""

from dataclasses import dataclass
from enum import StrEnum

from frimble.core.conclusions import Settings
from frimble.core.units import show_seconds
from frimble.core.verdicts import HardenVerdict


class Hardener(StrEnum):
    LIGHT = "light"
    CHEMICAL = "chemical"


HARDENERS = {Hardener.LIGHT: "light, once more", Hardener.CHEMICAL: "a chemical hardener"}


@dataclass(frozen=True)
class StencilForRun:
    """What hardening is judged by.

    Attributes:
        ink: "water", "solvent" or "" not known. resists: inks the emulsion stands. impressions: planned; None not known.
        given_s: light it had. hardened: how, or "".
    """

    ink: str = ""
    resists: tuple[str, ...] = ()
    impressions: int | None = None
    given_s: float | None = None
    hardened: str = ""


@dataclass(frozen=True)
class HardenAdvice:
    """What to do with its reason; `light` says how long, where that is the way."""

    verdict: HardenVerdict
    reason: str
    light: str = ""


def advise(stencil: StencilForRun, settings: Settings) -> HardenAdvice:
    """Whether to harden, by ink, emulsion and run. Common practice, no source."""
    if stencil.hardened:
        return HardenAdvice(HardenVerdict.DONE, f"Hardened by {HARDENERS[Hardener(stencil.hardened)]}.")
    light = (
        f"As long again in the light: {show_seconds(stencil.given_s)}, or some minutes of sun."
        if stencil.given_s
        else ""
    )
    long_run = settings["press.long_run"]
    if stencil.ink and stencil.resists and stencil.ink not in stencil.resists:
        reason = (
            "Its emulsion does not stand this ink: hardening helps for a short run, another emulsion is the answer."
        )
        return HardenAdvice(HardenVerdict.OFFERED, reason, light)
    if stencil.ink == "water":
        return HardenAdvice(HardenVerdict.OFFERED, "Water-based ink softens a stencil as it runs: harden it.", light)
    if stencil.impressions is not None and stencil.impressions >= long_run:
        reason = f"{stencil.impressions} prints are a long run ({long_run:g} and more): harden it."
        return HardenAdvice(HardenVerdict.OFFERED, reason, light)
    if stencil.impressions is None and not stencil.ink:
        return HardenAdvice(HardenVerdict.NOT_KNOWN, "Say how many prints are planned, and in which ink.", light)
    return HardenAdvice(HardenVerdict.NOT_NEEDED, "This run and ink ask for none.", light)
