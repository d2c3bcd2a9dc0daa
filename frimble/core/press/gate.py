"""The gate before press: what was skipped on the way here, or is over its limits."""

from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum

from frimble.core.conclusions import Settings
from frimble.core.numbers import counted
from frimble.core.units import show_minutes
from frimble.core.verdicts import FilmVerdict, GateVerdict


class GateCheck(StrEnum):
    """What is asked at the gate."""

    TIME = "time"
    FILM = "film"
    INSPECTION = "inspection"
    DRY = "dry"
    PINHOLES = "pinholes"
    TENSION = "tension"
    INK = "ink"
    HARDENED = "hardened"


@dataclass(frozen=True)
class ScreenBeforePress:
    """What is on record of a screen that goes out.

    Attributes:
        photo_stencil: coated and exposed here; thermal film and hand stencils have no time, film or wash.
        calibrated: whether its time came from the chart. film: verdict of the last check of its film; None unchecked.
        inspected: whether somebody looked at this stencil since it was made or its ink was washed out.
        wet_min: minutes it is still held as wet. kept_pinholes: blocked before its last print: filler dissolves in remover.
        tension, tension_days: N/cm and its age; None never measured. slack_below: N/cm.
        ink: that it will print; resists: inks its emulsion stands, empty where not known.
        unhardened: whether its ink asks for a hardened stencil and this one is not.
    """

    photo_stencil: bool
    calibrated: bool
    film: FilmVerdict | None
    inspected: bool
    wet_min: float
    kept_pinholes: int
    tension: float | None
    tension_days: float | None
    slack_below: float
    ink: str = ""
    resists: tuple[str, ...] = ()
    unhardened: bool = False


@dataclass(frozen=True)
class GateItem:
    """One check: its word, and the sentence with what to do; `due` where somebody has to decide."""

    check: GateCheck
    label: str
    verdict: GateVerdict
    words: str

    @property
    def due(self) -> bool:
        return self.verdict.due


def gate(screen: ScreenBeforePress, settings: Settings) -> tuple[GateItem, ...]:
    """Every check with its verdict, in the order of the work. Common practice, no source."""
    return tuple(_items(screen, settings))


def _items(screen: ScreenBeforePress, settings: Settings) -> Iterator[GateItem]:
    if screen.photo_stencil:
        yield _time(screen)
        yield _film(screen)
    yield _inspection(screen)
    yield _dry(screen)
    if screen.kept_pinholes:
        yield _pinholes(screen)
    yield _tension(screen, settings)
    if screen.ink and screen.resists:
        yield _ink(screen)
    if screen.unhardened:
        words = "Its ink wears a stencil that is not hardened: harden it."
        yield GateItem(GateCheck.HARDENED, "Hardened", GateVerdict.SKIPPED, words)


def _time(screen: ScreenBeforePress) -> GateItem:
    if screen.calibrated:
        return GateItem(GateCheck.TIME, "Exposure time", GateVerdict.OK, "From the chart.")
    words = "Its time was not calibrated: it may wear early. Run a step test for this coat, mesh and lamp."
    return GateItem(GateCheck.TIME, "Exposure time", GateVerdict.SKIPPED, words)


def _film(screen: ScreenBeforePress) -> GateItem:
    if screen.film is None:
        return GateItem(GateCheck.FILM, "Film", GateVerdict.NOT_ASKED, "No check of its film is on record.")
    if screen.film == FilmVerdict.FAULTS:
        words = "Its film was found with faults: look for them on the stencil."
        return GateItem(GateCheck.FILM, "Film", GateVerdict.OVER, words)
    known = screen.film == FilmVerdict.PASSED
    return GateItem(
        GateCheck.FILM,
        "Film",
        GateVerdict.OK if known else GateVerdict.NOT_ASKED,
        "Checked and passed." if known else "Its check could not tell.",
    )


def _inspection(screen: ScreenBeforePress) -> GateItem:
    if screen.inspected:
        return GateItem(
            GateCheck.INSPECTION, "Looked at against light", GateVerdict.OK, "Since it was made or cleaned."
        )
    words = "Nobody looked at it since its ink was washed out: hold it against the light."
    return GateItem(GateCheck.INSPECTION, "Looked at against light", GateVerdict.SKIPPED, words)


def _dry(screen: ScreenBeforePress) -> GateItem:
    if screen.wet_min <= 0:
        return GateItem(GateCheck.DRY, "Dry", GateVerdict.OK, "By the clock, since its last water.")
    words = f"Held as wet for {show_minutes(screen.wet_min)} more: a damp stencil softens under the squeegee."
    return GateItem(GateCheck.DRY, "Dry", GateVerdict.OVER, words)


def _pinholes(screen: ScreenBeforePress) -> GateItem:
    blocked = counted(screen.kept_pinholes, "pinhole was", "pinholes were")
    words = f"{blocked} blocked before its last print, and filler dissolves in ink remover: look for them again."
    return GateItem(GateCheck.PINHOLES, "Pinholes", GateVerdict.OVER, words)


def _tension(screen: ScreenBeforePress, settings: Settings) -> GateItem:
    def item(verdict: GateVerdict, words: str) -> GateItem:
        return GateItem(GateCheck.TENSION, "Tension", verdict, words)

    if screen.tension is None or screen.tension_days is None:
        return item(GateVerdict.SKIPPED, "Never measured on this mesh: measure it.")
    shown = f"{screen.tension:.1f} N/cm"
    if screen.tension < screen.slack_below:
        return item(
            GateVerdict.OVER, f"{shown}, poor below {screen.slack_below:g}: soft edges, colours that do not meet."
        )
    if screen.tension_days > settings["tension.recheck_days"]:
        limit = settings["tension.recheck_days"]
        return item(
            GateVerdict.OVER,
            f"{shown}, measured {screen.tension_days:.0f} days ago: measure it again after {limit:g} days.",
        )
    return item(GateVerdict.OK, f"{shown}.")


def _ink(screen: ScreenBeforePress) -> GateItem:
    if screen.ink in screen.resists:
        return GateItem(GateCheck.INK, "Ink", GateVerdict.OK, "Its emulsion stands this ink.")
    return GateItem(GateCheck.INK, "Ink", GateVerdict.OVER, "Its emulsion does not stand this ink: it will break down.")
