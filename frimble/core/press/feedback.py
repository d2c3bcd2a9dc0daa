"""What the press says of a screen's prints, and what that means for the screen room."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from enum import StrEnum

from frimble.core.conclusions import Settings


class Opacity(StrEnum):
    OPAQUE = "opaque"
    THIN = "thin"
    POOR = "poor"


class Sharpness(StrEnum):
    SHARP = "sharp"
    SOFT = "soft"
    LOST = "lost"


class Fit(StrEnum):
    """Register."""

    FITS = "fits"
    LITTLE = "little"
    OFF = "off"


class Hold(StrEnum):
    """How the stencil stood the run."""

    HELD = "held"
    PINHOLES = "pinholes"
    BROKE = "broke"


class InkFault(StrEnum):
    """What is the ink's and not the screen's."""

    NONE = ""
    WATERY = "watery"
    DRIED = "dried"
    STIFF = "stiff"


# The four taps, each with its question and answers; the first answer is what one hopes for.
QUESTIONS: Mapping[str, tuple[str, Mapping[str, str]]] = {
    "opacity": ("Does it cover?", {
        Opacity.OPAQUE: "opaque", Opacity.THIN: "thin, one more pass", Opacity.POOR: "see-through"}),
    "sharpness": ("Is it sharp?", {
        Sharpness.SHARP: "sharp", Sharpness.SOFT: "soft edges", Sharpness.LOST: "detail lost"}),
    "fit": ("Do the colours meet?", {Fit.FITS: "they meet", Fit.LITTLE: "a little off", Fit.OFF: "off"}),
    "hold": ("Does the stencil hold?", {
        Hold.HELD: "it holds", Hold.PINHOLES: "pinholes", Hold.BROKE: "it breaks down"}),
}  # fmt: skip
INK_FAULTS: Mapping[str, str] = {
    InkFault.NONE: "none seen",
    InkFault.WATERY: "runs, watery",
    InkFault.DRIED: "dries in the mesh",
    InkFault.STIFF: "stiff, does not shear",
}


@dataclass(frozen=True)
class Print:
    """What was seen of a print; empty where nobody said.

    Attributes:
        passes: strokes for the deposit. flashes: between them.
    """

    opacity: str = ""
    sharpness: str = ""
    fit: str = ""
    hold: str = ""
    ink_fault: str = ""
    passes: int | None = None
    flashes: int | None = None


@dataclass(frozen=True)
class ScreenPrinted:
    """What is on record of the screen that printed.

    Attributes:
        tension, slack_below: N/cm. tension_before: the measurement before the last.
        eom_um, eom_aim_um: emulsion over mesh, and what its formula usually gives.
    """

    tension: float | None = None
    tension_before: float | None = None
    slack_below: float = 20.0
    eom_um: float | None = None
    eom_aim_um: float | None = None


@dataclass(frozen=True)
class Advice:
    """What to do, with its reason; `looks_into` where the screen's causes are worth a look."""

    words: str
    looks_into: tuple[str, ...] = ()


# A fall that is more than readings differ by.
_FELL = 1.5
_THIN_SHARE = 0.8


def advice(seen: Print, screen: ScreenPrinted, settings: Settings) -> tuple[Advice, ...]:
    """What the screen room should do about a print. Common practice, no source.

    A fault of the ink is told apart first: what it makes is not the screen's.
    """
    return tuple(_advice(seen, screen, settings))


def _advice(seen: Print, screen: ScreenPrinted, settings: Settings) -> Iterator[Advice]:
    if seen.ink_fault:
        yield Advice(_INK[seen.ink_fault])
    if seen.fit in (Fit.LITTLE, Fit.OFF) or seen.sharpness == Sharpness.SOFT:
        yield Advice(_tension_words(screen))
    if seen.opacity in (Opacity.THIN, Opacity.POOR):
        yield Advice(_cover_words(seen, screen))
    if seen.sharpness == Sharpness.LOST:
        yield Advice("Detail is lost: look whether film and stencil have it.", ("fine_lines_of_stencil_lost",))
    if seen.hold == Hold.BROKE:
        yield Advice("The stencil breaks down: find its cause before the next one is made.", ("breaks_down_on_press",))
    if seen.hold == Hold.PINHOLES:
        yield Advice("Block the pinholes with filler or tape on the print side; look what makes them.", ("pinholes",))


_INK: Mapping[str, str] = {
    InkFault.WATERY: "Ink first: watery ink bleeds whatever the screen. Thicken it before the screen is blamed.",
    InkFault.DRIED: "Ink first: water-based ink dries in the mesh. Flood between prints, retarder as its data sheet says.",
    InkFault.STIFF: "Ink first: stiff ink covers badly. Stir or warm it before the coat is blamed.",
}


def _tension_words(screen: ScreenPrinted) -> str:
    if screen.tension is None:
        return "Edges or register: nobody measured this mesh. Measure its tension before ink or press is blamed."
    shown = f"{screen.tension:.1f} N/cm"
    if screen.tension < screen.slack_below:
        return f"Edges or register: the mesh is slack, {shown} of {screen.slack_below:g}. Take another screen."
    if screen.tension_before is not None and screen.tension_before - screen.tension > _FELL:
        fell = screen.tension_before - screen.tension
        return f"Edges or register: its tension fell by {fell:.1f} to {shown}. Measure it again after this run."
    return f"Edges or register: its tension is not it, {shown}. Look at off-contact, pressure and the pallet."


def _cover_words(seen: Print, screen: ScreenPrinted) -> str:
    if screen.tension is not None and screen.tension < screen.slack_below:
        return f"It does not cover: at {screen.tension:.1f} N/cm the print sinks in. Tension before a thicker coat."
    if screen.eom_um is None:
        return "It does not cover: nobody measured its coat. Measure the next, with one more stroke on the print side."
    if screen.eom_aim_um and screen.eom_um < _THIN_SHARE * screen.eom_aim_um:
        usual = f"where such coats have {screen.eom_aim_um:.0f}"
        return f"It does not cover: its coat is {screen.eom_um:.0f} µm {usual}. Coat it thicker."
    return f"It does not cover with {screen.eom_um:.0f} µm over the mesh: a thicker coat or a coarser mesh next time."
